import { defineConfig } from "vite";

export default defineConfig({
  build: {
    outDir: "../src/wardrobe/server/web",
    emptyOutDir: true,
    chunkSizeWarningLimit: 900,
    rollupOptions: {
      onwarn: (warning, warn) => {
        // "use client" in the component library means nothing to a page without a server renderer.
        if (warning.code !== "MODULE_LEVEL_DIRECTIVE") warn(warning);
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8610" } },
});
