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
 * @param dialog it is the dialog's own key, which works while that has the focus
 */
export function useKeys(binding: Binding | null, run: (key: string, event: KeyboardEvent) => void,
  on: "keydown" | "keyup" = "keydown", dialog = false): void {
  const latest = useRef(run);
  useEffect(() => { latest.current = run; });
  useEffect(() => {
    if (!binding) return;
    const listen = (e: KeyboardEvent) => {
      if (e.defaultPrevented || isTyping(e.target)) return;
      const apart = dialog ? "[role=menu], [role=listbox]" : "[role=dialog], [role=menu], [role=listbox]";
      if (e.target instanceof Element && e.target.closest(apart)) return;
      const key = pressed(binding, e);
      if (key === undefined) return;
      if (/^F\d|\+./.test(key)) e.preventDefault(); // a browser does things of its own by F3 or Ctrl+Z
      latest.current(key, e);
    };
    document.addEventListener(on, listen);
    return () => document.removeEventListener(on, listen);
  }, [binding, on, dialog]);
}
