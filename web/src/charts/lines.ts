// What tells lines of one figure apart: ink and dash, so that colour alone says nothing.
import { INK, LINE_INKS } from "../ui/ink";

const DASHES = ["", "7 4", "2 4", "10 3 2 3", "4 2", "1 3"];

export const inkOf = (turn: number) => LINE_INKS[turn % LINE_INKS.length] ?? INK.graphite;
export const dashOf = (turn: number) => DASHES[turn % DASHES.length] ?? "";

/** Where the name of each line stands, upwards from its own place so that none stands on another. */
export function placeNames(ends: { name: string; y: number }[], gap: number): Map<string, number> {
  let last = Number.NEGATIVE_INFINITY;
  return new Map(
    [...ends]
      .sort((a, b) => a.y - b.y)
      .map(({ name, y }) => {
        last = Math.max(y, last + gap);
        return [name, last];
      }),
  );
}

const LONGEST = 32;
const CHARACTER_PX = 7.6;

/** A name as it stands in a figure. */
export const shorten = (name: string, longest = LONGEST) =>
  name.length > longest ? `${name.slice(0, longest - 1)}…` : name;

/** How much room the names of lines need beside their ends, px. */
export const roomFor = (names: string[]) =>
  24 + CHARACTER_PX * Math.max(0, ...names.map((name) => shorten(name).length));
