// One hue, pale to deep: how strong a piece was, as a share of the strongest.
const PALE = [214, 232, 229] as const;
const DEEP = [9, 68, 74] as const;

export function strengthFill(share: number): string {
  const t = Math.min(1, Math.max(0, share));
  const mix = PALE.map((from, i) => Math.round(from + ((DEEP[i] ?? 0) - from) * t));
  return `rgb(${mix.join(" ")})`;
}

/** Shares of the strongest, spread from the weakest so that differences show; 0.08 for the weakest. */
export function shareOf(strength: number | null | undefined, lowest: number, highest: number): number {
  if (strength == null) return 0;
  return highest > lowest ? 0.08 + (0.92 * (strength - lowest)) / (highest - lowest) : 0.5;
}
