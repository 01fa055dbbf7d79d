// What difference n pieces of each set can tell apart, with the planned n marked.
import type { Schemas } from "../api/client";
import { INK } from "../ui/ink";
import { CHART_STYLE, Plot, useFigure } from "./plot";

interface Props {
  curve: Schemas["PowerPoint"][];
  n: number | null;
  detectable: number | null;
  margin: number;
}

export function PowerCurve({ curve, n, detectable, margin }: Props) {
  const top = Math.max(1.1 * margin, Math.min(80, Math.max(...curve.map((point) => point.detectable_pct))));
  const frame = useFigure<HTMLDivElement>(
    () =>
      Plot.plot({
        width: 262,
        height: 156,
        marginLeft: 42,
        marginBottom: 40,
        marginRight: 12,
        style: CHART_STYLE,
        x: {
          type: "log",
          label: "pieces of each",
          labelArrow: "none",
          labelOffset: 38,
          ticks: n !== null && n > 60 ? [3, 10, 30, 100, 1000] : [3, 5, 10, 20, 30],
          tickFormat: (d: number) => String(d),
        },
        y: { domain: [0, top], ticks: 4, label: null, tickFormat: (d: number) => `${d}%`, grid: true },
        marks: [
          Plot.ruleY([margin], { stroke: INK.pencil, strokeDasharray: "3 3" }),
          Plot.line(curve, {
            x: "n",
            y: "detectable_pct",
            stroke: INK.graphite,
            strokeWidth: 1.8,
            clip: true,
          }),
          n !== null && detectable !== null
            ? Plot.dot([{ n, detectable }], {
                x: "n",
                y: (d) => Math.min(top, d.detectable),
                r: 5.5,
                fill: INK.layout,
              })
            : null,
        ],
      }),
    [curve, n, detectable, margin],
  );
  return (
    <div
      ref={frame}
      role="img"
      aria-label={`Difference that can be told apart, from ${curve[0]?.n} to ${curve.at(-1)?.n} pieces of each`}
    />
  );
}
