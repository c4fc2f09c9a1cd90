import { useHotkeys, type Options } from "react-hotkeys-hook";
import { isTyping } from "../picture/useNavigation";

/** Keys of the application: everywhere but where text is typed or a dialog has the focus. */
export function useKeys(keys: string | readonly string[], run: (event: KeyboardEvent) => void, options: Options = {}): void {
  useHotkeys(keys, run, {
    enableOnFormTags: true,
    ignoreEventWhen: (e) => isTyping(e.target) || (e.target instanceof Element && e.target.closest("[role=dialog]") !== null),
    ...options,
  });
}
