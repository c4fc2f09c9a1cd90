import { describe, expect, it } from "vitest";
import { ALL_KEYS } from "../shell/Help";
import { bindings, pressed, shown } from "./keys";

const none = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
const press = (key: string, code: string, more: Partial<typeof none> = {}, third = false) =>
  ({ key, code, ...none, ...more, getModifierState: (name: string) => third && name === "AltGraph" });

const KEYS = bindings("Here", {
  letter: ["a", "A letter"],
  bracket: ["[", "A sign"],
  undo: ["Ctrl+Z", "Undo"],
  redo: [["Ctrl+Shift+Z", "Ctrl+Y"], "Redo"],
  up: ["Alt+ArrowUp", "Up"],
  second: ["Shift+2", "A digit with Shift"],
  help: ["?", "Help"],
  plus: [["+", "="], "Plus"],
});

describe("a key is known by what is printed on it", () => {
  it.each([
    ["a US keyboard", press("a", "KeyA"), "letter", "a"],
    ["caps lock", press("A", "KeyA"), "letter", "a"],
    ["a French keyboard, where A lies at Q", press("a", "KeyQ"), "letter", "a"],
    ["a Russian keyboard, by place", press("ф", "KeyA"), "letter", "a"],
    ["a German bracket on the third level", press("[", "Digit8", { ctrlKey: true, altKey: true }, true), "bracket",
      "["],
    ["a question mark with Shift", press("?", "Slash", { shiftKey: true }), "help", "?"],
    ["a Swedish question mark", press("?", "Minus", { shiftKey: true }), "help", "?"],
    ["plus with Shift", press("+", "Equal", { shiftKey: true }), "plus", "+"],
    ["undo on a Mac", press("z", "KeyZ", { metaKey: true }), "undo", "Ctrl+Z"],
    ["redo", press("Z", "KeyZ", { ctrlKey: true, shiftKey: true }), "redo", "Ctrl+Shift+Z"],
    ["redo by Y", press("y", "KeyY", { ctrlKey: true }), "redo", "Ctrl+Y"],
    ["an arrow with Alt", press("ArrowUp", "ArrowUp", { altKey: true }), "up", "Alt+ArrowUp"],
    ["Shift and 2 where that gives an inch sign", press('"', "Digit2", { shiftKey: true }), "second", "Shift+2"],
  ] as const)("%s", (_, event, name, key) => {
    expect(pressed(KEYS[name], event)).toBe(key);
    const others = Object.entries(KEYS).filter(([other]) => other !== name);
    expect(others.filter(([, binding]) => pressed(binding, event) !== undefined)).toEqual([]);
  });

  it.each([
    ["a letter with Ctrl", press("a", "KeyA", { ctrlKey: true }), "letter"],
    ["a letter with Shift", press("A", "KeyA", { shiftKey: true }), "letter"],
    ["undo with Shift", press("Z", "KeyZ", { ctrlKey: true, shiftKey: true }), "undo"],
    ["a plain arrow", press("ArrowUp", "ArrowUp"), "up"],
    ["a plain 2", press("2", "Digit2"), "second"],
  ] as const)("not %s", (_, event, name) => expect(pressed(KEYS[name], event)).toBeUndefined());
});

describe("the list of keys", () => {
  it("gives no key two meanings on one screen", () => {
    for (const where of new Set(ALL_KEYS.map((b) => b.where))) {
      const keys = ALL_KEYS.filter((b) => b.where === where).flatMap((b) => b.on);
      expect([where, keys.filter((key, at) => keys.indexOf(key) !== at)]).toEqual([where, []]);
    }
  });

  it("leaves a step's keys alone where a key works everywhere", () => {
    const everywhere = ALL_KEYS.filter((b) => ["Everywhere", "Looking"].includes(b.where)
      && !b.on[0]?.startsWith("Arrow")).flatMap((b) => b.on);
    const pages = ["Everywhere", "Looking", "A lesson"]; // A lesson is a page of its own, without a piece under it.
    const steps = ALL_KEYS.filter((b) => !pages.includes(b.where)).flatMap((b) => b.on);
    expect(steps.filter((key) => everywhere.includes(key))).toEqual([]);
  });

  it.each([["a", "A"], ["Ctrl+Shift+Z", "Ctrl Shift Z"], ["Alt+ArrowUp", "Alt ↑"], ["-", "−"], ["F2", "F2"],
    ["+", "+"]])("shows %s as %s", (key, as) => expect(shown(key)).toBe(as));
});
