import type { Step } from "../api/client";
import type { Schemas } from "../api/client";

export type Doing = Schemas["BeatReport"]["doing"];
export type Beat = Schemas["BeatReport"];

const TELL_SECONDS = 10;
export const IDLE_SECONDS = 90;
export const LOOKING_SECONDS = 300;
/** What is counted between two ticks at most: the machine slept. */
const MOST_TICK = 5;
/** Away for so long, it is asked whether it was work. */
const ASK_SECONDS = 120;
const MOST_ASKED = 8 * 3600;

export interface Situation {
  /** Seconds of a clock that never goes back. */
  now: number;
  piece: number;
  step: Step;
  paused: boolean;
  /** Whether the window can be seen and has the focus. */
  here: boolean;
}

/** Counts what one window does, and says when it is to be told: work while a hand moves, looking while hands are
 * off for a while, away beyond that. It knows nothing of the day's time: zones and set clocks do not matter. */
export class Beats {
  private touched: number;
  private ticked: number | null = null;
  private last: { piece: number; step: Step; doing: Doing } | null = null;
  private untold = 0;
  private due = TELL_SECONDS;
  private left: number | null = null;

  constructor(private readonly window: string, now: number, private readonly tell: (beat: Beat) => void,
    private readonly wasAway: (seconds: number) => void = () => undefined) {
    this.touched = now;
  }

  /** Seconds that were counted and not told yet. */
  get pending(): number { return this.last?.doing === "away" ? 0 : this.untold; }

  touch(now: number): void { this.touched = now; }

  doing({ now, paused, here }: Situation): Doing {
    if (paused || !here) return "away";
    const idle = now - this.touched;
    return idle < IDLE_SECONDS ? "work" : idle < LOOKING_SECONDS ? "look" : "away";
  }

  tick(at: Situation): void {
    const doing = this.doing(at);
    const passed = this.ticked === null ? 0 : Math.min(at.now - this.ticked, MOST_TICK);
    this.ticked = at.now;
    const same = this.last !== null && this.last.piece === at.piece && this.last.step === at.step
      && this.last.doing === doing;
    if (!same) {
      this.flush();
      this.noteAway(doing, at);
      this.last = { piece: at.piece, step: at.step, doing };
    }
    this.untold += passed;
    if (doing === "away") this.untold = 0;
    else if (this.untold >= this.due) this.flush();
  }

  /** Tell what is untold: the window goes, or does something else. */
  flush(): void {
    if (this.last === null || this.last.doing === "away" || this.untold <= 0) return;
    const since = this.untold;
    this.untold = 0;
    this.due = TELL_SECONDS;
    this.tell({ window: this.window, ...this.last, since });
  }

  /** What could not be told is told with the next, after as long as always. */
  takeBack(beat: Beat): void {
    if (this.last?.piece !== beat.piece || this.last.doing === "away") return;
    this.untold += beat.since;
    this.due = this.untold + TELL_SECONDS;
  }

  private noteAway(doing: Doing, { now, paused }: Situation): void {
    if (doing === "away") {
      this.left = this.last && !paused ? now : null; // who stops the clock means it
    } else if (this.left !== null) {
      const seconds = now - this.left;
      this.left = null;
      if (seconds >= ASK_SECONDS && seconds <= MOST_ASKED) this.wasAway(seconds);
    }
  }
}
