import { describe, expect, it } from "vitest";
import type { Step } from "../api/client";
import { Beats, type Beat } from "./beats";

function clock() {
  const told: Beat[] = [];
  const away: number[] = [];
  const beats = new Beats("window-one", 0, (b) => told.push(b), (s) => away.push(s));
  let now = 0;
  /** Seconds pass, a tick each; a hand moves all the time or not at all. */
  const run = (seconds: number, { step = "light" as Step, hand = true, here = true, paused = false } = {}) => {
    for (let k = 0; k < seconds; k += 1) {
      now += 1;
      if (hand) beats.touch(now);
      beats.tick({ now, piece: 1, step, here, paused });
    }
  };
  const total = (doing?: string, step?: string) => told.filter((b) => (!doing || b.doing === doing)
    && (!step || b.step === step)).reduce((sum, b) => sum + b.since, 0);
  return { beats, told, away, run, total, sleep: (seconds: number) => { now += seconds; } };
}

describe("the beats of a window", () => {
  it("are told every ten seconds, and each step's own when it is left", () => {
    const { run, told, total, beats } = clock();
    run(1);
    run(25);
    run(13, { step: "looks" });
    beats.flush();
    expect(total("work", "light")).toBe(25);
    expect(total("work", "looks")).toBe(13);
    expect(Math.max(...told.map((b) => b.since))).toBeLessThanOrEqual(11);
  });

  it("tell looking from work and from nobody there", () => {
    const { run, total, beats, away } = clock();
    run(1);
    run(60);
    run(700, { hand: false });
    expect(total("work")).toBeCloseTo(60 + 89, -1);
    expect(total("look")).toBeCloseTo(210, -1);
    run(30);
    beats.flush();
    expect(total("work")).toBeCloseTo(60 + 89 + 30, -1);
    expect(away).toHaveLength(1);
    expect(away[0]).toBeGreaterThan(390);
    expect(away[0]).toBeLessThan(410);
  });

  it("count no window that is not seen, no stopped clock and no sleep", () => {
    const { run, total, beats, sleep, away } = clock();
    run(1);
    run(20);
    run(50, { here: false });
    run(40, { paused: true });
    run(20);
    sleep(7 * 3600);
    run(10);
    beats.flush();
    expect(total()).toBeGreaterThanOrEqual(47);
    expect(total()).toBeLessThanOrEqual(20 + 20 + 10 + 5);
    expect(away).toEqual([]); // less than two minutes, or stopped by hand
  });

  it("are told again with the next where the server did not hear them", () => {
    const { run, told, beats } = clock();
    run(11);
    const lost = told.pop();
    if (lost) beats.takeBack(lost);
    run(1);
    beats.flush();
    expect(told.reduce((sum, b) => sum + b.since, 0)).toBe(11);
    expect(beats.pending).toBe(0);
  });
});
