// Load over displacement, of one pull or of all pulls of a set over one another; or over time where there is none.
import type { Schemas } from "../api/client";
import { convert, digits, type Shown } from "../ui/format";
import { INK } from "../ui/ink";
import { dashOf, inkOf, placeNames, roomFor, shorten } from "./lines";
import { CHART_STYLE, Plot, useFigure } from "./plot";

export interface Line {
  name: string;
  points: [number, number][];
  /** Over time: the first drop, and where the load is read if not at the peak, s and N. */
  drop: [number, number] | null;
  read: [number, number] | null;
}

interface Props {
  lines: Line[];
  over: "time" | "displacement";
  force: Shown;
  length: Shown;
}

const FEW = 60;

export function LoadDeflection({ lines, over, force, length }: Props) {
  const frame = useFigure<HTMLDivElement>(() => {
    const at = (n: number) => convert(n, force);
    const along = (value: number) => (over === "time" ? value : convert(value, length));
    const tops = lines.map((line) => {
      const top = line.points.reduce(
        (best, one) => (one[1] > best[1] ? one : best),
        line.points[0] ?? [0, 0],
      );
      return { name: line.name, x: along(top[0]), y: at(top[1]) };
    });
    const highest = Math.max(0, ...tops.map((top) => top.y));
    const names = placeNames(tops, 0.055 * highest);
    const far = Math.max(0, ...lines.flatMap((line) => line.points.map((point) => along(point[0]))));
    const figure = Plot.plot({
      width: 640,
      height: 300,
      marginLeft: 56,
      marginRight: lines.length > 1 ? roomFor(lines.map((line) => line.name)) : 24,
      marginBottom: 44,
      style: CHART_STYLE,
      x: {
        label: over === "time" ? "time, s" : `displacement, ${length.symbol}`,
        labelArrow: "none",
        labelAnchor: "center",
        domain: [Math.min(0, ...lines.flatMap((line) => line.points.map((p) => along(p[0])))), far],
      },
      y: { label: force.symbol, labelArrow: "none", grid: true, domain: [0, highest * 1.06] },
      marks: [
        ...lines.map((line, turn) =>
          Plot.line(line.points, {
            x: (p) => along(p[0]),
            y: (p) => Math.max(0, at(p[1])),
            stroke: inkOf(turn),
            strokeWidth: 1.8,
            strokeDasharray: dashOf(turn),
          }),
        ),
        // what was read one by one is shown one by one
        Plot.dot(
          lines.flatMap((line, turn) =>
            line.points.length <= FEW ? line.points.map((p) => [...p, turn] as const) : [],
          ),
          { x: (p) => along(p[0]), y: (p) => at(p[1]), r: 3, fill: (p) => inkOf(p[2]) },
        ),
        Plot.dot(
          lines.flatMap((line) => (line.drop ? [line.drop] : [])),
          {
            x: (p) => along(p[0]),
            y: (p) => at(p[1]),
            r: 5,
            symbol: "triangle",
            stroke: INK.graphite,
            fill: INK.sheet,
          },
        ),
        Plot.dot(
          lines.flatMap((line) => (line.read ? [line.read] : [])),
          { x: (p) => along(p[0]), y: (p) => at(p[1]), r: 7, stroke: INK.layout, strokeWidth: 2.4 },
        ),
        Plot.dot(tops, {
          x: "x",
          y: "y",
          r: 4,
          fill: INK.graphite,
          title: (top) => `${top.name}: ${digits(top.y)}`,
        }),
        ...(lines.length > 1
          ? [
              Plot.text(tops, {
                x: () => far,
                y: (top) => names.get(top.name) ?? 0,
                text: (top) => shorten(top.name),
                textAnchor: "start",
                dx: 8,
                fontSize: 13,
                fill: (_, turn) => inkOf(turn),
              }),
            ]
          : []),
      ],
    });
    figure.style.maxWidth = "100%";
    return figure;
  }, [lines, over, force, length]);
  return (
    <div
      ref={frame}
      role="img"
      aria-label={`Load over ${over} of ${lines.map((line) => line.name).join(", ")}`}
    />
  );
}

/** A stored pull as a line: over its displacement where that is asked for. */
export function asLine(
  name: string,
  trace: Schemas["TraceView"],
  over: "time" | "displacement",
  read: [number, number] | null = null,
): Line {
  const drop = trace.reading?.drops[0];
  return {
    name,
    points: (over === "displacement" ? trace.curve : trace.points) as [number, number][],
    drop: over === "time" && drop ? [drop.at_s, drop.from_n] : null,
    read: over === "time" ? read : null,
  };
}
