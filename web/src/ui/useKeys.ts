import { useEffect, useRef } from "react";
import { pressed, type Binding } from "./keys";

/** Whether keys go into a text. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) return !["range", "checkbox", "radio"].includes(target.type);
  return target.isContentEditable || ["TEXTAREA", "SELECT"].includes(target.tagName);
}

/** Keys of a screen: everywhere but where text is typed or a dialog or menu has the focus.
 *
 * @param binding null listens to nothing
 */
export function useKeys(binding: Binding | null, run: (key: string, event: KeyboardEvent) => void,
  on: "keydown" | "keyup" = "keydown"): void {
  const latest = useRef(run);
  useEffect(() => { latest.current = run; });
  useEffect(() => {
    if (!binding) return;
    const listen = (e: KeyboardEvent) => {
      if (e.defaultPrevented || isTyping(e.target)) return;
      if (e.target instanceof Element && e.target.closest("[role=dialog], [role=menu], [role=listbox]")) return;
      const key = pressed(binding, e);
      if (key === undefined) return;
      if (/^F\d|\+./.test(key)) e.preventDefault(); // a browser does things of its own by F3 or Ctrl+Z
      latest.current(key, e);
    };
    document.addEventListener(on, listen);
    return () => document.removeEventListener(on, listen);
  }, [binding, on]);
}
