/** Keys of a pen, the same wherever one draws: part of a screen's table. */
export const PEN = {
  kind: ["w", "Outline or pen"],
  smaller: ["[", "A smaller pen"],
  larger: ["]", "A larger pen"],
} satisfies Record<string, [string, string]>;
