// Strength along what is measured: the pieces, the curves and the bands of their means.
import type { Schemas } from "../api/client";
import { digits } from "../ui/format";
import { INK } from "../ui/ink";
import { dashOf, inkOf, placeNames, roomFor, shorten } from "./lines";
import { CHART_STYLE, Plot, useFigure } from "./plot";

type Chart = Schemas["CurveChart"];

interface Props {
  chart: Chart;
  /** A second unit for the same axis: its symbol, and how many of it make one of the chart's. */
  beside?: { symbol: string; each: number } | undefined;
}

const SECOND_PX = 58;

export function CurveFigure({ chart, beside }: Props) {
  const frame = useFigure<HTMLDivElement>(() => {
    const names = placeNames(
      chart.lines.flatMap((line) => line.points.slice(-1).map((end) => ({ name: line.name, y: end[1] }))),
      0.06 * Math.max(0, ...chart.lines.flatMap((line) => line.dots.map((dot) => dot.y))),
    );
    const figure = Plot.plot({
      width: 640,
      height: 320,
      marginLeft: beside ? 56 + SECOND_PX : 56,
      marginRight: chart.lines.length > 1 ? roomFor(chart.lines.map((line) => line.name)) : 24,
      marginBottom: 44,
      style: CHART_STYLE,
      x: { label: `${chart.factor}, ${chart.x_unit}`, labelArrow: "none", labelAnchor: "center", zero: true },
      y: { label: chart.y_unit, labelArrow: "none", grid: true, zero: true },
      marks: [
        ...(beside
          ? [
              Plot.axisY({
                anchor: "left",
                dx: -SECOND_PX,
                label: beside.symbol,
                labelArrow: "none",
                tickFormat: (value: number) => digits(value * beside.each),
                color: INK.pencil,
              }),
              Plot.axisY({ anchor: "left", label: chart.y_unit, labelArrow: "none" }),
            ]
          : []),
        ...chart.lines.flatMap((line, turn) => [
          Plot.areaY(line.points, {
            x: (p) => p[0],
            y1: (p) => Math.max(0, p[2]),
            y2: (p) => p[3],
            fill: inkOf(turn),
            fillOpacity: 0.13,
          }),
          Plot.line(line.points, {
            x: (p) => p[0],
            y: (p) => p[1],
            stroke: inkOf(turn),
            strokeWidth: 2.4,
            strokeDasharray: dashOf(turn),
          }),
          Plot.dot(line.dots, {
            x: "x",
            y: "y",
            r: 4,
            stroke: (dot) => (dot.excluded ? INK.iron : inkOf(turn)),
            symbol: (dot: Chart["lines"][number]["dots"][number]) =>
              dot.excluded ? "times" : dot.outcome === "broke" ? "circle" : "triangle",
            title: (dot) =>
              `${dot.piece}: ${digits(dot.y)} ${chart.y_unit}${dot.excluded ? ", set aside" : ""}`,
          }),
          Plot.text(line.points.slice(-1), {
            x: (p) => p[0],
            y: () => names.get(line.name) ?? 0,
            text: () => (chart.lines.length > 1 ? shorten(line.name) : ""),
            textAnchor: "start",
            dx: 8,
            fontSize: 14,
            fontWeight: 620,
            fill: inkOf(turn),
          }),
        ]),
      ],
    });
    figure.style.maxWidth = "100%";
    return figure;
  }, [chart, beside?.symbol]);
  return (
    <div
      ref={frame}
      role="img"
      aria-label={`Strength along ${chart.factor}; what the curves say stands below`}
    />
  );
}
