import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { saying } from "./Laying";

const PASSES = { modes: { shade: "multiply" }, softness: { light: 0.4 } } as unknown as Schemas["Passes"];

describe("how passes are laid on", () => {
  it("is said of one pass, and leaves what is said of others", () => {
    expect(saying(PASSES, "modes", "light", "screen").modes).toEqual({ shade: "multiply", light: "screen" });
    expect(saying(PASSES, "softness", "light", 0.9)).toEqual({ ...PASSES, softness: { light: 0.9 } });
  });

  it("is no longer said when it is as usual", () => {
    expect(saying(PASSES, "modes", "shade", null).modes).toEqual({});
    expect(saying(PASSES, "softness", "shade", null)).toEqual(PASSES);
    expect(PASSES.modes).toEqual({ shade: "multiply" });
  });
});
