export interface Latest<W> {
  wish: (wish: W) => void;
  /** What was wished for is not wanted any more. */
  forget: () => void;
  idle: () => boolean;
}

/** One request runs and the newest wish waits: aborting the running one at each move of a hand would starve.
 *
 * @param run is also told how to ask whether its wish has been forgotten meanwhile
 */
export function latestWins<W>(run: (wish: W, wanted: () => boolean) => Promise<void>): Latest<W> {
  let running = false;
  let waiting: { wish: W } | null = null;
  let epoch = 0;
  const go = async (wish: W) => {
    running = true;
    const mine = epoch;
    try {
      await run(wish, () => mine === epoch);
    } finally {
      running = false;
      const next = waiting;
      waiting = null;
      if (next) void go(next.wish);
    }
  };
  return {
    wish: (wish) => {
      if (running) waiting = { wish };
      else void go(wish);
    },
    forget: () => {
      epoch += 1;
      waiting = null;
    },
    idle: () => !running,
  };
}
