// The live trace: load over time while a pull runs, drawn on a canvas so that it never stutters.
import { useEffect, useRef } from "react";
import uPlot from "uplot";
import { convert, type Shown } from "../ui/format";

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
  onPoint?: (time_s: number) => void;
}

const LINE = "#16201d";

export function LiveTrace({ feed, version, unit, peak, height, onPoint }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const chart = useRef<uPlot>(undefined);

  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const axis: uPlot.Axis = {
      font: '13px "Archivo Variable"',
      stroke: "#54615e",
      grid: { stroke: "#dfe5e3", width: 1 },
      ticks: { stroke: "#c5cdca" },
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
  }, [feed, version, unit.symbol, height]);

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
          : `Load over time, peak ${convert(peak, unit).toPrecision(3)} ${unit.symbol}`
      }
    />
  );
}
