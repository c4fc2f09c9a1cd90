/** A key, or several, and what it does: what a screen listens to and what the list of keys shows. */
export interface Binding {
  /** As `Ctrl+Z`, `Alt+ArrowUp`, `Shift+1`, `?`. `Ctrl` is Command on keyboards that have it. */
  on: readonly string[];
  says: string;
  /** The screen on which it works. */
  where: string;
}

type Table = Record<string, [on: string | readonly string[], says: string]>;

/** The keys of one screen, each under the name by which its code calls it. */
export function bindings<T extends Table>(where: string, table: T): Record<keyof T, Binding> {
  const entries = Object.entries(table).map(([name, [on, says]]) => [name, { on: typeof on === "string" ? [on]
    : on, says, where }]);
  return Object.fromEntries(entries) as Record<keyof T, Binding>;
}

type Pressed = Pick<KeyboardEvent, "key" | "code" | "ctrlKey" | "metaKey" | "altKey" |
  "shiftKey"> & { getModifierState?: (key: string) => boolean };

/** The key by which an event is known: what is printed on it, or on keyboards of other scripts
 * what a Latin one has there. */
function named({ key, code }: Pressed, shifted: boolean): string {
  const digit = /^Digit(\d)$/.exec(code)?.[1];
  if (shifted && digit) return digit; // what Shift makes of a digit differs from country to country
  if (key.length === 1 && key > "\x7f") return (/^Key([A-Z])$/.exec(code)?.[1] ?? digit ?? key).toLowerCase();
  return key.toLowerCase();
}

/** The one of a binding's keys that an event is, if any. */
export function pressed({ on }: Binding, e: Pressed): string | undefined {
  const third = e.getModifierState?.("AltGraph") ?? false; // brackets are on the third level of many keyboards
  return on.find((combination) => {
    const parts = combination.length === 1 ? [combination] : combination.split("+");
    const key = parts.at(-1) ?? "";
    const wants = (modifier: string) => parts.slice(0, -1).includes(modifier);
    const sign = key.length === 1 && !/[a-z0-9]/i.test(key);
    return named(e, wants("Shift")) === key.toLowerCase()
      && (third || wants("Ctrl") === (e.ctrlKey || e.metaKey))
      && (third || wants("Alt") === e.altKey)
      && (sign || wants("Shift") === e.shiftKey);
  });
}

const SIGNS: Record<string, string> = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→", "-": "−" };

/** A key as it is shown. */
export function shown(combination: string): string {
  if (combination.length === 1) return SIGNS[combination] ?? combination.toUpperCase();
  return combination.split("+").map((part) => SIGNS[part] ?? part).join(" ");
}
