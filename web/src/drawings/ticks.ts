// Where an axis is marked: round numbers; for times minutes to years, on the clock and the calendar of the place.
const MINUTE = 60_000;
const DAY = 1440;

/** Steps in minutes; from a day up they are days, and from 28 days up whole months. */
const STEPS = [5, 15, 30, 60, 180, 360, DAY, 7 * DAY, 30 * DAY, 91 * DAY, 365 * DAY];
const LEAST_PX = 58;

export interface Tick {
  at: number;
  words: string;
  strong: boolean;
}

/** The finest step, in minutes, whose marks do not crowd at so many pixels a millisecond. */
export const pickStep = (px: number) =>
  STEPS.find((step) => step * MINUTE * px >= LEAST_PX) ?? (STEPS.at(-1) as number);

const time = (moment: Date) => moment.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
const day = (moment: Date) =>
  moment.toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
const month = (moment: Date) => moment.toLocaleDateString("en-GB", { month: "short", year: "numeric" });

export function listTicks(from: number, to: number, step: number): Tick[] {
  const found: Tick[] = [];
  const moment = new Date(from);
  moment.setHours(0, 0, 0, 0);
  if (step >= 30 * DAY) {
    const months = Math.round(step / (30 * DAY));
    moment.setDate(1);
    moment.setMonth(Math.floor(moment.getMonth() / months) * months);
    for (; moment.getTime() <= to && found.length < 400; moment.setMonth(moment.getMonth() + months))
      found.push({ at: moment.getTime(), words: month(moment), strong: moment.getMonth() === 0 });
  } else if (step >= DAY) {
    const days = step / DAY;
    if (days > 1) moment.setDate(moment.getDate() - ((moment.getDay() + 6) % 7));
    for (; moment.getTime() <= to && found.length < 400; moment.setDate(moment.getDate() + days))
      found.push({ at: moment.getTime(), words: day(moment), strong: days > 1 || moment.getDay() === 1 });
  } else {
    while (moment.getTime() <= to && found.length < 400) {
      const midnight = moment.getHours() === 0 && moment.getMinutes() === 0;
      if (moment.getTime() >= from - step * MINUTE)
        found.push({ at: moment.getTime(), words: midnight ? day(moment) : time(moment), strong: midnight });
      moment.setMinutes(moment.getMinutes() + step);
    }
  }
  return found;
}

/** Round numbers between two ends, about six: steps of 1, 2 or 5 of a power of ten. */
export function roundNumbers(lowest: number, highest: number, about = 6): number[] {
  const rough = (highest - lowest) / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5].find((times) => times * power >= rough) ?? 10);
  const first = Math.ceil(lowest / step - 1e-9);
  const last = Math.floor(highest / step + 1e-9);
  return Array.from({ length: last - first + 1 }, (_, at) => Number(((first + at) * step).toPrecision(12)));
}
