import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, type Piece, type Step } from "../api/client";

const REPORT_SECONDS = 20;
const IDLE_SECONDS = 90;

/** Counts the time that a person works on a step, and reports it; nobody there, nothing counted. */
export function useWorkClock(piece: number, step: Step): void {
  const client = useQueryClient();
  useEffect(() => {
    let touched = Date.now();
    let worked = 0;
    const touch = () => { touched = Date.now(); };
    const report = () => {
      if (worked < 1) return;
      const seconds = worked;
      worked = 0;
      client.setQueryData<Piece>(["piece", piece], (p) => p && {
        ...p, spent_minutes: { ...p.spent_minutes, [step]: (p.spent_minutes[step] ?? 0) + seconds / 60 },
      });
      void api.POST("/api/pieces/{piece_id}/work", {
        params: { path: { piece_id: piece } }, body: { step, seconds }, keepalive: true,
      }).catch(() => undefined);
    };
    const tick = setInterval(() => {
      if (document.hidden || Date.now() - touched > IDLE_SECONDS * 1000) return;
      worked += 1;
      if (worked >= REPORT_SECONDS) report();
    }, 1000);
    for (const kind of ["pointermove", "pointerdown", "keydown", "wheel"]) window.addEventListener(kind,
      touch, { passive: true });
    window.addEventListener("pagehide", report);
    return () => {
      clearInterval(tick);
      report();
      for (const kind of ["pointermove", "pointerdown", "keydown", "wheel"]) window.removeEventListener(kind, touch);
      window.removeEventListener("pagehide", report);
    };
  }, [client, piece, step]);
}
