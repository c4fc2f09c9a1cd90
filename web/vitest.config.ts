import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    environment: "happy-dom",
    environmentOptions: { happyDOM: { url: "http://localhost/" } },
    include: ["src/**/*.test.{ts,tsx}"],
    // One window for all files of a worker: to make one for each took more than half of the time.
    isolate: false,
    restoreMocks: true,
    unstubGlobals: true,
  },
});
