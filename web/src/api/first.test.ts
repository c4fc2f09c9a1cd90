import { afterEach, describe, expect, it } from "vitest";
import { firstOr } from "./first";

afterEach(() => { delete window.wardrobeFirst; });

describe("what was asked for early", () => {
  it("is taken once, and asked for anew after that", async () => {
    window.wardrobeFirst = { "/api/pieces": Promise.resolve(Response.json([1])) };
    expect(await firstOr("/api/pieces", async () => [2])).toEqual([1]);
    expect(await firstOr("/api/pieces", async () => [2])).toEqual([2]);
    expect(await firstOr("/api/today", async () => 3)).toBe(3);
  });

  it("is asked for anew where it failed", async () => {
    window.wardrobeFirst = { a: Promise.resolve(new Response("", { status: 500 })), b: Promise.reject(new Error("x")) };
    expect(await firstOr("a", async () => 1)).toBe(1);
    expect(await firstOr("b", async () => 2)).toBe(2);
  });
});
