// The live trace: load over time while a pull runs, drawn on a canvas so that it never stutters.
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import { convert, digits, type Shown } from "../ui/format";
import { INK } from "../ui/ink";

export interface TraceFeed {
  times: number[];
  loads: number[];
}

interface Props {
  feed: TraceFeed;
  version: number;
  unit: Shown;
  peak: number | null;
  height: number;
  mark_s?: number | null;
  onPoint?: (time_s: number) => void;
}

const LINE = INK.graphite;
const MARK = INK.layout;

/** Where the load is read: a thin line down the trace, with a ring on it. */
function drawMark(plot: uPlot, at: number | null | undefined): void {
  const [times, loads] = plot.data as [number[], number[]];
  if (at == null || times.length === 0) return;
  let near = 0;
  for (let i = 1; i < times.length; i += 1)
    if (Math.abs((times[i] ?? 0) - at) < Math.abs((times[near] ?? 0) - at)) near = i;
  const x = plot.valToPos(times[near] ?? 0, "x", true);
  const y = plot.valToPos(loads[near] ?? 0, "y", true);
  plot.ctx.save();
  plot.ctx.strokeStyle = MARK;
  plot.ctx.lineWidth = 2 * devicePixelRatio;
  plot.ctx.beginPath();
  plot.ctx.moveTo(x, plot.bbox.top);
  plot.ctx.lineTo(x, plot.bbox.top + plot.bbox.height);
  plot.ctx.moveTo(x + 6 * devicePixelRatio, y);
  plot.ctx.arc(x, y, 6 * devicePixelRatio, 0, 2 * Math.PI);
  plot.ctx.stroke();
  plot.ctx.restore();
}

export function LiveTrace({ feed, version, unit, peak, height, mark_s, onPoint }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const chart = useRef<uPlot>(undefined);
  const mark = useRef(mark_s);
  mark.current = mark_s;

  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const axis: uPlot.Axis = {
      font: '13px "Archivo Variable"',
      stroke: INK.pencil,
      grid: { stroke: INK.grid, width: 1 },
      ticks: { stroke: INK.rule },
    };
    const made = new uPlot(
      {
        width: element.clientWidth,
        height,
        legend: { show: false },
        cursor: { show: false },
        scales: {
          x: { time: false },
          y: { range: (_, low, high) => [Math.min(0, low), Math.max(high * 1.08, 0.02)] },
        },
        axes: [
          { ...axis, values: (_, ticks) => ticks.map((t) => `${t} s`) },
          { ...axis, size: 56, label: unit.symbol, labelSize: 18, labelFont: '13px "Archivo Variable"' },
        ],
        series: [{}, { stroke: LINE, width: 2 }],
        hooks: { draw: [(plot) => drawMark(plot, mark.current)] },
      },
      [[], []],
      element,
    );
    chart.current = made;
    const resize = new ResizeObserver(() => made.setSize({ width: element.clientWidth, height }));
    resize.observe(element);
    return () => {
      resize.disconnect();
      made.destroy();
    };
  }, [unit.symbol, height]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the feed is filled in place; its version says when
  useEffect(() => {
    chart.current?.setData([feed.times, feed.loads.map((load) => convert(load, unit))]);
  }, [feed, version, unit.symbol, height, mark_s]);

  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the buttons below choose a point by keyboard
    <div
      ref={frame}
      onClick={(event) => {
        const plot = chart.current;
        const over = plot?.over.getBoundingClientRect();
        if (plot && over && onPoint) onPoint(plot.posToVal(event.clientX - over.left, "x"));
      }}
      className="w-full"
      role="img"
      aria-label={
        peak === null
          ? "Load over time"
          : `Load over time, peak ${digits(convert(peak, unit))} ${unit.symbol}`
      }
    />
  );
}
