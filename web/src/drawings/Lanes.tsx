// The timetable as lanes by resource: hands, each kind of clamps, cure, exposure, rig; from minutes to months.
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { someLabels } from "../ui/format";
import { listTicks, pickStep } from "./ticks";

type Task = Schemas["TaskView"];

interface Props {
  lanes: string[];
  tasks: Task[];
  windows: readonly (readonly string[])[];
  now: number;
  chosen: number | null;
  selected: number | null;
  onChoose: (task: Task) => void;
}

const ROW = 22;
const GAP = 8;
const HEAD = 34;
const NAMES = 96;
const MARGIN = 400;
// room for the words of the last mark
const TAIL = 64;
const SMALL = 4;
const MOST_PX = 60_000;

interface Placed {
  task: Task;
  begin: number;
  end: number;
  row: number;
}

interface Lane {
  name: string;
  top: number;
  rows: number;
  placed: Placed[];
}

/** Stack what overlaps: each task in the first row of its lane that is free. */
function pack(lanes: string[], tasks: Task[]): { lanes: Lane[]; height: number } {
  let top = HEAD;
  const found = lanes.map((name) => {
    const free: number[] = [];
    const placed = tasks
      .filter((task) => task.lanes.includes(name))
      .map((task) => ({ task, begin: Date.parse(task.begin_utc), end: Date.parse(task.end_utc) }))
      .sort((a, b) => a.begin - b.begin)
      .map((one) => {
        let row = free.findIndex((until) => until <= one.begin);
        if (row < 0) row = free.push(0) - 1;
        free[row] = one.end;
        return { ...one, row };
      });
    const lane = { name, top, rows: Math.max(1, free.length), placed };
    top += lane.rows * ROW + GAP;
    return lane;
  });
  return { lanes: found, height: top };
}

export function Lanes({ lanes, tasks, windows, now, chosen, selected, onChoose }: Props) {
  const box = useRef<HTMLElement>(null);
  const [wide, setWide] = useState(560);
  const [scale, setScale] = useState<number | null>(null);
  const [left, setLeft] = useState(0);
  const packed = useMemo(() => pack(lanes, tasks), [lanes, tasks]);
  const begins = tasks.map((task) => Date.parse(task.begin_utc));
  const first = Math.min(...begins);
  const last = Math.max(...tasks.map((task) => Date.parse(task.end_utc)));
  const fit = (wide - NAMES - TAIL) / Math.max(60_000, last - first);
  const px = scale ?? fit;
  useLayoutEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([entry]) => entry && setWide(entry.contentRect.width));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const long = (last - first) * px + TAIL;
  const x = (moment: number) => (moment - first) * px;
  const zoom = (by: number) => {
    const next = Math.min(Math.max(px * by, fit), Math.min(6 / 60_000, MOST_PX / (last - first)));
    const middle = first + (left + (wide - NAMES) / 2) / px;
    setScale(next <= fit * 1.01 ? null : next);
    requestAnimationFrame(() => {
      if (box.current) box.current.scrollLeft = (middle - first) * next - (wide - NAMES) / 2;
    });
  };
  const goTo = (moment: number) => {
    if (box.current) box.current.scrollLeft = x(moment) - 40;
  };
  const seen = (begin: number, end: number) => x(end) >= left - MARGIN && x(begin) <= left + wide + MARGIN;
  const isLit = (task: Task) =>
    task.id === chosen || (selected !== null && task.piece_ids.includes(selected));
  // what is narrower than a finger's touch, and the thin lines of the cure, are drawn in one stroke
  const isSmall = ({ task, begin, end }: Placed) =>
    !isLit(task) && (task.kind === "cure" || (end - begin) * px < SMALL);
  const from = first + (left - MARGIN) / px;
  const ticks = listTicks(
    Math.max(first, from),
    Math.min(last, first + (left + wide + MARGIN) / px),
    pickStep(px),
  );
  return (
    <figure className="mt-3">
      <div className="flex flex-wrap items-center gap-2 pb-2">
        <button
          type="button"
          className="press px-3"
          aria-label="Show less time, larger"
          onClick={() => zoom(2)}
        >
          +
        </button>
        <button
          type="button"
          className="press px-3"
          aria-label="Show more time, smaller"
          onClick={() => zoom(0.5)}
        >
          −
        </button>
        <button type="button" className="press press-plain" onClick={() => setScale(null)}>
          all of it
        </button>
        {now > first && now < last && (
          <button type="button" className="press press-plain" onClick={() => goTo(now)}>
            now
          </button>
        )}
      </div>
      <section
        ref={box}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
        tabIndex={0}
        aria-label="The timetable, drawn"
        className="relative overflow-x-auto border rule bg-sheet"
        onScroll={(event) => setLeft(event.currentTarget.scrollLeft)}
      >
        <div className="relative" style={{ width: NAMES + long, height: packed.height }}>
          <div className="sticky left-0 z-10 h-full w-0">
            <div className="h-full border-r rule bg-sheet" style={{ width: NAMES }}>
              {packed.lanes.map((lane) => (
                <span
                  key={lane.name}
                  className="head absolute truncate px-2 text-sm"
                  title={lane.name}
                  style={{ top: lane.top, width: NAMES }}
                >
                  {lane.name}
                </span>
              ))}
            </div>
          </div>
          <svg
            className="absolute top-0"
            style={{ left: NAMES }}
            width={long}
            height={packed.height}
            role="img"
            aria-label={`${tasks.length} tasks in ${lanes.length} lanes; the list below has those of the hands`}
          >
            <defs>
              <pattern
                id="out"
                width="6"
                height="6"
                patternUnits="userSpaceOnUse"
                patternTransform="rotate(45)"
              >
                <path d="M0 0v6" stroke="var(--color-pencil)" strokeWidth="1.5" />
              </pattern>
            </defs>
            {windows.length > 0 && (
              <g>
                <rect y={HEAD - 6} width={long} height={packed.height} fill="var(--color-plaster)" />
                {windows
                  .map(([begin = "", end = ""]) => [Date.parse(begin), Date.parse(end)] as const)
                  .filter(([begin, end]) => seen(begin, end))
                  .map(([begin, end]) => (
                    <rect
                      key={begin}
                      x={x(begin)}
                      y={HEAD - 6}
                      width={Math.max(0, x(end) - x(begin))}
                      height={packed.height}
                      fill="var(--color-sheet)"
                    />
                  ))}
              </g>
            )}
            {ticks.map((tick) => (
              <g key={tick.at} transform={`translate(${x(tick.at)} 0)`}>
                <path
                  d={`M0 ${HEAD - 6}V${packed.height}`}
                  stroke={tick.strong ? "var(--color-pencil)" : "var(--color-rule)"}
                  strokeWidth={1}
                />
                <text
                  x={3}
                  y={tick.strong ? 12 : 25}
                  fontSize={12}
                  fontWeight={tick.strong ? 650 : 420}
                  fill={tick.strong ? "var(--color-graphite)" : "var(--color-pencil)"}
                >
                  {tick.words}
                </text>
              </g>
            ))}
            {packed.lanes.map((lane) => (
              <path key={lane.name} d={`M0 ${lane.top - GAP / 2}H${long}`} stroke="var(--color-rule)" />
            ))}
            {packed.lanes.map((lane) => (
              <Small key={lane.name} lane={lane} tasks={lane.placed.filter((one) => isSmall(one))} x={x} />
            ))}
            {packed.lanes.flatMap((lane) =>
              lane.placed
                .filter((one) => seen(one.begin, one.end) && !isSmall(one))
                .map((one) => (
                  <Bar
                    key={`${lane.name} ${one.task.id}`}
                    task={one.task}
                    x={x(one.begin)}
                    y={lane.top + one.row * ROW}
                    wide={Math.max(3, x(one.end) - x(one.begin))}
                    lit={isLit(one.task)}
                    onChoose={onChoose}
                  />
                )),
            )}
            {now > first && now < last && (
              <path
                d={`M${x(now)} ${HEAD - 6}V${packed.height}`}
                stroke="var(--color-iron)"
                strokeWidth={2}
              />
            )}
          </svg>
        </div>
      </section>
      <figcaption className="pencil mt-1 text-sm">
        Amber: glue and clamps. Thin line: cure. Dark: breaking. Hatched: outside working hours. A bar that is
        outlined heavily belongs to the piece chosen in the rack; a dot is a pin.
      </figcaption>
    </figure>
  );
}

interface SmallProps {
  lane: Lane;
  tasks: Placed[];
  x: (moment: number) => number;
}

/** What is too narrow to be pressed: one path for each kind in a lane. */
function Small({ lane, tasks, x }: SmallProps) {
  const kinds = [...Map.groupBy(tasks, (one) => one.task.kind)];
  return kinds.map(([kind, mine]) => {
    const marks = mine.map(({ begin, end, row }) => {
      const at = x(begin).toFixed(1);
      const wide = Math.max(2, x(end) - x(begin)).toFixed(1);
      const top = lane.top + row * ROW;
      return kind === "cure"
        ? `M${at} ${top + (ROW - 6) / 2}h${wide}`
        : `M${at} ${top}h${wide}v${ROW - 6}h-${wide}z`;
    });
    return (
      <path
        key={kind}
        d={[...new Set(marks)].join("")}
        fill={FILLS[kind]}
        stroke="var(--color-graphite)"
        strokeWidth={kind === "cure" ? 1.5 : 0.8}
      />
    );
  });
}

interface BarProps {
  task: Task;
  x: number;
  y: number;
  wide: number;
  lit: boolean;
  onChoose: (task: Task) => void;
}

const FILLS: Record<Task["kind"], string> = {
  glue: "var(--color-amber)",
  clamp: "var(--color-amber-pale)",
  release: "var(--color-sheet)",
  cure: "none",
  expose: "var(--color-teal-1)",
  put_in: "var(--color-teal-1)",
  take_out: "var(--color-teal-1)",
  measure: "var(--color-rule)",
  break: "var(--color-graphite)",
};

function Bar({ task, x, y, wide, lit, onChoose }: BarProps) {
  const dark = task.kind === "break";
  const high = ROW - 6;
  const words = someLabels(task.labels, 1);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: see above
    <g
      transform={`translate(${x} ${y})`}
      className="cursor-pointer"
      opacity={task.state === "done" ? 0.45 : 1}
      onClick={() => onChoose(task)}
    >
      <title>{task.words}</title>
      <rect y={-2} width={Math.max(wide, 8)} height={ROW - 2} fill="transparent" />
      {task.kind === "cure" ? (
        <path d={`M0 ${high / 2}H${wide}`} stroke="var(--color-graphite)" strokeWidth={lit ? 4 : 1.5} />
      ) : (
        <rect
          width={wide}
          height={high}
          fill={FILLS[task.kind]}
          stroke={
            lit
              ? "var(--color-layout)"
              : task.state === "late"
                ? "var(--color-iron)"
                : "var(--color-graphite)"
          }
          strokeWidth={lit ? 3 : task.state === "late" ? 2 : 1}
        />
      )}
      {task.odd && <rect width={wide} height={high} fill="url(#out)" />}
      {task.kind === "clamp" && wide > 12 && (
        <path
          d={`M5 -3v4M5 ${high - 1}v4M${wide - 5} -3v4M${wide - 5} ${high - 1}v4`}
          stroke="var(--color-graphite)"
          strokeWidth={1.5}
        />
      )}
      {task.pinned && <circle cx={Math.min(wide / 2, 6)} cy={high / 2} r={3} fill="var(--color-layout)" />}
      {wide > 54 && task.kind !== "cure" && (
        <text
          x={task.pinned ? 14 : 7}
          y={12}
          fontSize={12}
          className="mono"
          fill={dark ? "#fff" : "var(--color-graphite)"}
        >
          {wide > 20 + 8 * words.length ? words : ""}
        </text>
      )}
    </g>
  );
}
