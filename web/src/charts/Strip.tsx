// Every piece as a dot on the line of its set, with the typical strength and its likely range below them.
import type { Schemas } from "../api/client";
import { convert, digits, type Shown } from "../ui/format";
import { INK } from "../ui/ink";
import { shorten } from "./lines";
import { CHART_STYLE, Plot, useFigure } from "./plot";

interface Props {
  dots: Schemas["Dot"][];
  groups: Schemas["Group"][];
  controls: string[];
  unit: Shown;
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

/** How high a line of dots is: one screen holds them all, or as many as it can. */
const rowOf = (sets: number) => (sets <= 7 ? 56 : sets <= 14 ? 34 : 21);

/** Spread dots that would hide each other upwards, in steps, from the strongest crowding. */
function stack(dots: Schemas["Dot"][], unit: Shown, span: number) {
  const placed: { dot: Schemas["Dot"]; x: number; lift: number }[] = [];
  const sorted = [...dots].sort((a, b) => (a.strength ?? 0) - (b.strength ?? 0));
  for (const dot of sorted) {
    const x = convert(dot.strength ?? 0, unit);
    const near = placed.filter(
      (other) => other.dot.treatment === dot.treatment && Math.abs(other.x - x) < span * 0.014,
    );
    const lift = [0, 1, 2, 3, 4].find((level) => near.every((other) => other.lift !== level)) ?? 5;
    placed.push({ dot, x, lift });
  }
  return placed;
}

export function Strip({ dots, groups, controls, unit, selected, onSelect }: Props) {
  const levels = groups.map((group) => group.level);
  const shown = dots.filter((dot) => dot.strength !== null);
  const values = shown.flatMap((dot) =>
    [dot.strength, dot.held_strength].flatMap((one) => (one === null ? [] : [convert(one, unit)])),
  );
  const lowest = Math.min(
    ...values,
    ...groups.map((group) => convert(group.typical_ci95?.[0] ?? group.at_most ?? Infinity, unit)),
  );
  const highest = Math.max(
    1e-9,
    ...values,
    ...groups.map((group) => convert(group.typical_ci95?.[1] ?? group.at_least ?? 0, unit)),
  );
  // the dots fill the width; the axis begins at zero only when the weakest piece comes near it
  const start = Number.isFinite(lowest) && lowest > 0.25 * highest ? lowest - 0.06 * (highest - lowest) : 0;
  const placed = stack(shown, unit, highest - start);
  const bars = groups.flatMap((group) =>
    group.typical === null
      ? []
      : [
          {
            level: group.level,
            typical: convert(group.typical, unit),
            low: convert(group.typical_ci95?.[0] ?? group.typical, unit),
            high: convert(group.typical_ci95?.[1] ?? group.typical, unit),
          },
        ],
  );
  // with one solid set a wood there is no one band of the wood
  const solid =
    controls.length === 1 ? groups.find((group) => group.level === controls[0])?.typical_ci95 : null;
  const wood = solid ? { low: convert(solid[0], unit), high: convert(solid[1], unit) } : null;
  const ends = groups.flatMap((group) => {
    const end = group.at_least ?? group.at_most;
    return end === null ? [] : [{ level: group.level, end: convert(end, unit), up: group.at_least !== null }];
  });
  const lineOf = (level: string) => levels.indexOf(level);
  const row = rowOf(levels.length);
  const roomy = row > 30;
  const radius = roomy ? 4.6 : 3.4;
  const frame = useFigure<HTMLDivElement>(() => {
    const mark = (shown: typeof placed, options: Plot.DotOptions) =>
      Plot.dot(shown, {
        x: "x",
        y: (one) => lineOf(one.dot.treatment) + 0.5 - one.lift * (roomy ? 0.11 : 0.09),
        title: (one) => describe(one.dot, unit),
        ...options,
      });
    const counted = placed.filter((one) => !one.dot.excluded);
    const plain = counted.filter((one) => one.dot.judged === "broke");
    const torn = plain.filter((one) => (one.dot.wood_failure_pct ?? 0) >= 50);
    const rest = plain.filter((one) => (one.dot.wood_failure_pct ?? 0) < 50);
    const at = (kind: string) => counted.filter((one) => one.dot.judged === kind);
    const dotRow = (one: (typeof placed)[number]) =>
      lineOf(one.dot.treatment) + 0.5 - one.lift * (roomy ? 0.11 : 0.09);
    const ink = (one: (typeof placed)[number]) =>
      (one.dot.wood_failure_pct ?? 0) >= 50 ? INK.torn : INK.graphite;
    const reach = 0.035 * (highest - start);
    const arrow = (kind: string, way: number) =>
      Plot.arrow(at(kind), {
        x1: "x",
        x2: (one) => one.x + way * reach,
        y1: dotRow,
        y2: dotRow,
        stroke: ink,
        strokeWidth: 2,
        headLength: 7,
        insetStart: 4,
      });
    const heldAt = (one: (typeof placed)[number]) => convert(one.dot.held_strength ?? 0, unit);
    const y = (bar: { level: string }) => lineOf(bar.level) + (roomy ? 0.76 : 0.84);
    const figure = Plot.plot({
      width: 640,
      height: row * levels.length + 40,
      marginLeft: 176,
      marginRight: 24,
      marginBottom: 36,
      marginTop: 4,
      style: CHART_STYLE,
      x: {
        domain: [start, highest + 0.04 * (highest - start)],
        label: unit.symbol,
        grid: true,
        labelArrow: "none",
      },
      y: { domain: [levels.length, 0], axis: null },
      marks: [
        Plot.text(levels, {
          x: start,
          y: (d) => lineOf(d) + 0.5,
          text: (d) => (roomy ? shorten(d) : shorten(d, 24)),
          textAnchor: "start",
          lineAnchor: "middle",
          lineWidth: roomy ? NAME_EMS : 2 * NAME_EMS,
          dx: -172,
          fontSize: roomy ? 15 : 13,
          fontWeight: 620,
        }),
        ...(wood
          ? [
              Plot.rect([wood], {
                x1: "low",
                x2: "high",
                y1: 0,
                y2: levels.length,
                fill: INK.torn,
                fillOpacity: 0.1,
              }),
              Plot.text([wood], {
                x: (band) => (band.low + band.high) / 2,
                y: 0.08,
                text: () => "solid wood",
                fill: INK.wood,
              }),
            ]
          : []),
        Plot.text(groups, {
          x: start,
          y: (group) => lineOf(group.level) + 0.5,
          text: (group) => (controls.includes(group.level) ? "baseline" : (group.letters ?? "")),
          textAnchor: "end",
          dx: -8,
          fontSize: 14,
          fill: INK.both,
        }),
        Plot.ruleY(bars, { x1: "low", x2: "high", y, stroke: INK.teal, strokeWidth: roomy ? 7 : 4 }),
        Plot.ruleX(bars, {
          x: "typical",
          y1: (bar) => y(bar) - 0.15,
          y2: (bar) => y(bar) + 0.15,
          stroke: INK.graphite,
          strokeWidth: 3,
        }),
        // a set that held, or fell apart, throughout: an end, and open to the other side
        Plot.arrow(ends, {
          x1: "end",
          x2: (one) => one.end + (one.up ? 2 : -2) * reach,
          y1: y,
          y2: y,
          stroke: INK.teal,
          strokeWidth: 7,
          headLength: 9,
        }),
        mark(rest, { r: radius, fill: INK.graphite, fillOpacity: 0.78 }),
        mark(torn, { r: radius, fill: INK.torn, symbol: "square" }),
        mark(at("held"), { r: radius, fill: ink, symbol: "square" }),
        arrow("held", 1),
        mark(at("fell_apart"), { r: radius, fill: "none", stroke: INK.graphite, strokeWidth: 2 }),
        arrow("fell_apart", -1),
        Plot.link(at("step"), {
          x1: heldAt,
          x2: "x",
          y1: dotRow,
          y2: dotRow,
          stroke: INK.graphite,
          strokeWidth: 4,
        }),
        mark(at("step"), { r: radius, fill: INK.graphite }),
        mark(
          placed.filter((one) => one.dot.excluded),
          { r: 5, stroke: INK.iron, symbol: "times", strokeWidth: 2.2 },
        ),
        mark(
          placed.filter((one) => one.dot.piece_id === selected),
          { r: 8, fill: "none", stroke: INK.layout, strokeWidth: 2.6 },
        ),
      ],
    });
    figure.style.maxWidth = "100%";
    for (const title of figure.querySelectorAll("title")) {
      const label = title.textContent?.split(":")[0];
      const dot = dots.find((one) => one.label === label);
      const shape = title.parentElement;
      if (!dot || !shape) continue;
      shape.style.cursor = "pointer";
      shape.addEventListener("click", () => onSelect(dot.piece_id));
    }
    return figure;
  }, [dots, groups, unit.symbol, selected]);
  return (
    <div
      ref={frame}
      role="img"
      aria-label={`${dots.length} breaks in ${levels.length} sets; the numbers stand in the table below`}
    />
  );
}

/** A name has two lines of this width beside its dots; the whole of it stands in the table. */
const NAME_EMS = 8;

function describe(dot: Schemas["Dot"], unit: Shown): string {
  const value =
    dot.strength === null ? "no strength" : `${digits(convert(dot.strength, unit))} ${unit.symbol}`;
  const torn = dot.wood_failure_pct === null ? "" : `, ${dot.wood_failure_pct} % torn wood`;
  return `${dot.label}: ${value}, ${dot.board}${torn}${dot.excluded ? `, set aside: ${dot.excluded}` : ""}`;
}
