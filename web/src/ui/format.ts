// The one place where numbers and times become text. Values come in SI; the shop's units say how to show them.
export interface Shown {
  symbol: string;
  per_si: number;
  offset: number;
}

/** Three significant figures, no false digits, thin minus. */
export function digits(value: number, significant = 3): string {
  if (value === 0) return "0";
  // rounded first: 99.96 in three figures is 100, not 100.0
  const rounded = Number(value.toPrecision(significant));
  const places = Math.max(0, significant - 1 - Math.floor(Math.log10(Math.abs(rounded))));
  const text = places > 0 ? rounded.toFixed(places) : String(Math.round(value));
  return text.replace("-", "−");
}

/** A size as short as it is, to a hundredth of a millimetre at most: 22, 21.93, 9.5. */
export const plainSize = (value: number) => String(Number(value.toPrecision(4)));

/** Money, in whatever the prices were typed in: cents, and two figures of what is less than a tenth. */
export const money = (value: number | null | undefined) =>
  value == null ? "–" : value > 0 && value < 0.1 ? digits(value, 2) : value.toFixed(2);

/** A percentage as short as it is: 15, 12.5. */
export const plainPercent = (value: number) => `${Number(value.toPrecision(3))} %`;

/** Numbers of one column with the same decimals, as many as their middle needs. */
export function columnDigits(values: (number | null | undefined)[], significant = 3) {
  const sizes = values.filter((v): v is number => typeof v === "number" && v > 0).sort((a, b) => a - b);
  const middle = sizes[Math.floor(sizes.length / 2)] ?? 1;
  const places = Math.max(0, significant - 1 - Math.floor(Math.log10(middle)));
  return (value: number | null | undefined) =>
    value == null ? "–" : value.toFixed(places).replace("-", "−");
}

export const convert = (si: number, unit: Shown) => si * unit.per_si + unit.offset;

/** A duration in the words of a bench: 42 min, 9 h 20, 3 d. */
export function duration(seconds: number): string {
  const size = Math.abs(seconds);
  if (size < 90) return `${size >= 10 ? Math.round(size) : Math.round(10 * size) / 10} s`;
  const minutes = Math.round(size / 60);
  if (minutes < 120) return `${minutes} min`;
  const whole = Math.floor(minutes / 60);
  if (whole < 48) return minutes % 60 ? `${whole} h ${minutes % 60} min` : `${whole} h`;
  const hours = Math.round(minutes / 60);
  const days = Math.floor(hours / 24);
  if (days >= 730) return `${Number((days / 365.25).toPrecision(3))} y`;
  return hours % 24 ? `${days} d ${hours % 24} h` : `${days} d`;
}

export const clockTime = (utc: string) =>
  new Date(utc).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

export const dayTime = (utc: string) => {
  const moment = new Date(utc);
  const now = new Date();
  if (now.toDateString() === moment.toDateString()) return clockTime(utc);
  const year = now.getFullYear() === moment.getFullYear() ? {} : ({ year: "numeric" } as const);
  return `${moment.toLocaleDateString("en-GB", { day: "numeric", month: "short", ...year })}, ${clockTime(utc)}`;
};

export const longDay = (utc: string) =>
  new Date(utc).toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" });

/** Labels in short: the first ones and how many more. */
export function someLabels(labels: string[], shown = 2): string {
  if (labels.length <= shown + 1) return labels.join(" ");
  return `${labels.slice(0, shown).join(" ")} +${labels.length - shown}`;
}
