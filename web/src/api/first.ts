declare global {
  interface Window {
    /** Answers that `first.js` asked for before the application was there. */
    wardrobeFirst?: Record<string, Promise<Response>>;
  }
}

/** What was asked for early, once; else what is asked for now. */
export async function firstOr<T>(path: string, ask: () => Promise<T>): Promise<T> {
  const early = window.wardrobeFirst?.[path];
  if (!early) return ask();
  delete window.wardrobeFirst?.[path];
  const answer = await early.catch(() => null);
  return answer?.ok ? (await answer.json()) as T : ask();
}
