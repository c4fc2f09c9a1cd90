import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, need, type Step } from "../api/client";
import { useMeta } from "../api/pieces";
import { clockKey, type ClockState } from "../api/time";
import { tell } from "../api/notice";
import { Beats, type Beat } from "./beats";
import { quietly } from "./quietly";
import { useRunning, useWishes } from "./state";
import { STEPS } from "../shell/steps";

const TOUCHES = ["pointermove", "pointerdown", "keydown", "wheel"] as const;
const seconds = () => performance.now() / 1000;
const windowName = `w${[...crypto.getRandomValues(new Uint32Array(4))].map((n) => n.toString(36)).join("")}`;

/** The clock of a step: counts, tells the server, and says quietly when a step's time is up or a break is due. */
export function useWorkClock(piece: number, step: Step): void {
  const client = useQueryClient();
  const advice = useMeta().data?.advice;
  const at = useRef({ piece, step, advice });
  useEffect(() => { at.current = { piece, step, advice }; });
  useEffect(() => {
    const told = new Set<string>();
    const answer = (state: ClockState, beat: Beat) => {
      client.setQueryData(clockKey(beat.piece), state);
      remind(state, beat, at.current.advice ?? [], told);
    };
    const send = (beat: Beat) => {
      void need(api.POST("/api/beats", { body: beat, keepalive: true }))
        .then((state) => answer(state as ClockState, beat)).catch(() => beats.takeBack(beat));
    };
    const beats = new Beats(windowName, seconds(), send,
      (away) => useRunning.setState({ away: Math.round(away / 60) }));
    const tick = () => {
      const { paused } = useRunning.getState();
      const situation = { now: seconds(), piece: at.current.piece, step: at.current.step, paused,
        here: !document.hidden && document.hasFocus() };
      beats.tick(situation);
      useRunning.setState({ doing: beats.doing(situation), pending: beats.pending });
    };
    const touch = () => beats.touch(seconds());
    const go = () => { tick(); beats.flush(); };
    const timer = setInterval(tick, 1000);
    tick();
    for (const kind of TOUCHES) window.addEventListener(kind, touch, { passive: true });
    window.addEventListener("pagehide", go);
    document.addEventListener("visibilitychange", tick);
    return () => {
      clearInterval(timer);
      go();
      for (const kind of TOUCHES) window.removeEventListener(kind, touch);
      window.removeEventListener("pagehide", go);
      document.removeEventListener("visibilitychange", tick);
    };
  }, [client]);
}

/** Say once that a step's time is used up, or that a break is due; never while a pen is down. */
function remind(state: ClockState, beat: Beat, advice: { key: string; label: string; text: string; every: number }[],
  told: Set<string>): void {
  const { alarm, breaks } = useWishes.getState();
  const planned = state.plan.minutes[beat.step] ?? 0;
  const once = `${beat.piece} ${beat.step} ${planned}`;
  if (alarm && planned > 0 && (state.spent[beat.step] ?? 0) >= planned && !told.has(once)) {
    told.add(once);
    const label = STEPS.find((s) => s.key === beat.step)?.label ?? beat.step;
    quietly(() => tell(`The time planned for ${label} is used up. ${state.pace.words}`));
  }
  for (const one of advice) {
    const every = breaks[one.key] ?? one.every;
    const worked = state.since_break[one.key] ?? 0;
    if (worked < every) told.delete(one.key);
    else if (every > 0 && !told.has(one.key)) {
      told.add(one.key);
      quietly(() => tell(`${Math.round(worked)} minutes since a break. ${one.text}`));
    }
  }
}
