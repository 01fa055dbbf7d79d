// The weak end of the sets: each distribution as a line, its pieces beside it, and the range of its 5 in 100.
import type { Schemas } from "../api/client";
import { roundNumbers } from "../drawings/ticks";
import { convert, digits, type Shown } from "../ui/format";
import { dashOf, inkOf, roomFor, shorten } from "./lines";
import { CHART_STYLE, Plot, useFigure } from "./plot";

type Chart = Schemas["WeakEndChart"];

/** Round numbers between two ends: about six evenly, or 1, 2 and 5 of each power of ten where they lie far apart. */
function listMarks(lowest: number, highest: number): number[] {
  if (highest < 10 * lowest) return roundNumbers(lowest, highest);
  const found: number[] = [];
  for (let at = 10 ** Math.floor(Math.log10(lowest)); at <= highest; at *= 10)
    found.push(...[at, 2 * at, 5 * at].filter((one) => one >= lowest && one <= highest));
  return found;
}

export function WeakEndFigure({ chart, unit }: { chart: Chart; unit: Shown }) {
  const frame = useFigure<HTMLDivElement>(() => {
    const at = (strength: number) => convert(strength, unit);
    const all = chart.lines.flatMap((line) => [...line.points, ...line.ends].map((point) => at(point[0])));
    const [lowest, highest] = [Math.min(...all), Math.max(...all)];
    const heights = chart.marks.map((mark) => mark[1]);
    const [bottom, top] = [Math.min(...heights), Math.max(...heights)];
    // below the lines each set has a row for its range, with its name at the end
    const row = 0.08 * (top - bottom);
    const ranges = chart.lines.map((line, turn) => ({
      name: line.name,
      turn,
      y: bottom - (turn + 1) * row,
      low: at(line.low),
      least: line.low_ci95[0] === null ? lowest : Math.max(lowest, at(line.low_ci95[0])),
      most: line.low_ci95[1] === null ? highest : Math.min(highest, at(line.low_ci95[1])),
    }));
    const figure = Plot.plot({
      width: 640,
      height: 300 + 22 * chart.lines.length,
      marginLeft: 48,
      marginRight: roomFor(chart.lines.map((line) => line.name)),
      marginBottom: 44,
      style: CHART_STYLE,
      x: { type: "log", domain: [lowest, highest], axis: null },
      y: {
        domain: [bottom - (ranges.length + 0.5) * row, top],
        label: "weaker pieces in 100",
        labelArrow: "none",
        ticks: heights,
        tickFormat: (height: number) => String(chart.marks.find((mark) => mark[1] === height)?.[0] ?? ""),
        grid: true,
      },
      marks: [
        Plot.axisX(listMarks(lowest, highest), {
          label: unit.symbol,
          labelArrow: "none",
          labelAnchor: "center",
          // as text: the library's own format leaves out most numbers of a logarithmic axis
          text: (value: number) => String(Number(value.toPrecision(3))),
        }),
        Plot.ruleX(ranges, {
          x: "low",
          y1: "y",
          y2: chart.low_height,
          stroke: (range) => inkOf(range.turn),
          strokeDasharray: "1 3",
        }),
        Plot.ruleY(ranges, {
          x1: "least",
          x2: "most",
          y: "y",
          stroke: (range) => inkOf(range.turn),
          strokeWidth: 5,
          strokeOpacity: 0.45,
        }),
        Plot.dot(ranges, { x: "low", y: "y", r: 4, fill: (range) => inkOf(range.turn) }),
        ...chart.lines.flatMap((line, turn) => [
          Plot.line(line.ends, {
            x: (end) => at(end[0]),
            y: (end) => end[1],
            stroke: inkOf(turn),
            strokeWidth: 2.2,
            strokeDasharray: dashOf(turn),
          }),
          Plot.dot(line.points, {
            x: (point) => at(point[0]),
            y: (point) => point[1],
            r: 3.2,
            stroke: inkOf(turn),
            title: (point) => `${line.name}: ${digits(at(point[0]))} ${unit.symbol}`,
          }),
        ]),
        Plot.text(ranges, {
          x: () => highest,
          y: "y",
          text: (range) => shorten(range.name),
          textAnchor: "start",
          dx: 12,
          fontSize: 14,
          fontWeight: 620,
          fill: (range) => inkOf(range.turn),
        }),
      ],
    });
    figure.style.maxWidth = "100%";
    return figure;
  }, [chart, unit]);
  return (
    <>
      <div ref={frame} role="img" aria-label="The weak end of each set; its numbers stand below" />
      <p className="pencil text-sm">
        A circle is a piece, as high as the share of its set that is weaker; a line is the distribution. The
        bar at a name is the likely range of the strength that 5 in 100 stay below.
        {chart.left_out > 0 &&
          ` Drawn are the ${chart.lines.length} sets with the strongest weak end; ${chart.left_out} more stand in the table.`}
      </p>
    </>
  );
}
