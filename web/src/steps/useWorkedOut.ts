import { useRef } from "react";
import type { Edit } from "../api/client";
import { tellProblem } from "../api/notice";

interface Live {
  make: (edit: Edit) => Promise<unknown>;
  show: (edit: Edit) => void;
  drop: () => void;
}

/** Buttons whose edits the server works out: shown while one points at them, made when they are pressed. */
export function useWorkedOut(live: Live) {
  const pointed = useRef<unknown>(null);
  const ask = (edit: () => Promise<Edit>, then: (edit: Edit) => void) => { edit().then(then).catch(tellProblem); };
  return (key: unknown, edit: () => Promise<Edit>, made: () => void = () => undefined) => {
    const point = () => {
      pointed.current = key;
      ask(edit, (e) => { if (pointed.current === key) live.show(e); });
    };
    const leave = () => { pointed.current = null; live.drop(); };
    return { onPointerEnter: point, onFocus: point, onPointerLeave: leave, onBlur: leave, onClick: () => {
      pointed.current = null;
      ask(edit, (e) => { void live.make(e).then((done) => { if (done) made(); }); });
    } };
  };
}
