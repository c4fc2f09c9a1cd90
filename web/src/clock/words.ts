/** Minutes as a clock shows them: `12:05`, `1:02:05`, with a sign once they are used up. */
export function countdown(minutes: number): string {
  const whole = Math.round(Math.abs(minutes) * 60);
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const two = (n: number) => String(n).padStart(2, "0");
  const sign = minutes < 0 && whole > 0 ? "−" : "";
  return h ? `${sign}${h}:${two(m)}:${two(s)}` : `${sign}${m}:${two(s)}`;
}

/** Minutes as they are told. */
export function told(minutes: number): string {
  if (minutes > 0 && minutes < 1) return "<1 min";
  const whole = Math.round(minutes);
  return whole < 90 ? `${whole} min` : `${Math.floor(whole / 60)} h${whole % 60 ? ` ${whole % 60} min` : ""}`;
}
