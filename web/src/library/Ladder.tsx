// A table of the book, strongest first: each thing against the one they are held against, with its range and the trials.
import type { Schemas } from "../api/client";

type Row = Schemas["BookRow"];

interface Props {
  rows: readonly Row[];
  against: string;
  chosen: readonly string[];
  onChoose: (name: string) => void;
}

const WIDE = 380;
const HIGH = 30;

export function Ladder({ rows, against, chosen, onChoose }: Props) {
  const scale = makeScale(rows);
  return (
    <table className="plain w-full">
      <caption className="sr-only">Things of this table, strongest first, against {against}</caption>
      <thead>
        <tr>
          <th scope="col">strongest first</th>
          <th scope="col" className="w-[52%] px-2">
            <span className="sr-only">against {against}</span>
            <Ticks scale={scale} />
          </th>
          <th scope="col">of {against}</th>
          <th scope="col" className="hidden md:table-cell">
            pieces, trials
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row, at) => (
          <tr key={row.name} className={at > 0 && rows[at - 1]?.part !== row.part ? "border-t-4 rule" : ""}>
            <td className="head py-0">
              <button
                type="button"
                className={`min-h-[36px] w-full px-1 text-left hover:text-layout ${chosen.includes(row.name) ? "bg-layout-pale text-layout" : ""}`}
                aria-pressed={chosen.includes(row.name)}
                onClick={() => onChoose(row.name)}
              >
                {row.name}
              </button>
            </td>
            <td className="px-2 py-0">
              <Bar row={row} scale={scale} base={row.name === against} />
            </td>
            <td className="py-0 whitespace-nowrap">{say(row, against)}</td>
            <td className="pencil hidden py-0 whitespace-nowrap md:table-cell">
              {row.pieces}, {row.trials}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function say(row: Row, against: string) {
  if (row.name === against) return <strong>100 %</strong>;
  if (row.ratio == null || row.low == null || row.high == null) return "nothing leads there";
  const percent = (value: number) => Math.round(100 * value);
  return (
    <>
      <strong>{percent(row.ratio)} %</strong>{" "}
      <span className="pencil text-sm">
        {percent(row.low)} to {percent(row.high)}
      </span>
    </>
  );
}

interface Scale {
  at: (ratio: number) => number;
  ticks: number[];
}

/** Ratios on one logarithmic scale, so that twice and half are as far from one. */
function makeScale(rows: readonly Row[]): Scale {
  const values = rows
    .flatMap((row) => [row.low, row.high, ...row.met])
    .filter((one) => one != null && one > 0);
  const low = Math.log(Math.max(0.05, Math.min(0.9, ...(values as number[]))));
  const high = Math.log(Math.min(20, Math.max(1.1, ...(values as number[]))));
  const at = (ratio: number) =>
    6 + ((WIDE - 12) * (Math.min(Math.max(Math.log(ratio), low), high) - low)) / (high - low);
  const ticks = [0.1, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 5, 10].filter(
    (one) => Math.log(one) >= low && Math.log(one) <= high,
  );
  return { at, ticks };
}

const Ticks = ({ scale }: { scale: Scale }) => (
  <svg viewBox={`0 0 ${WIDE} 16`} className="block w-full" aria-hidden="true">
    {scale.ticks.map((one) => (
      <text key={one} x={scale.at(one)} y="12" textAnchor="middle" className="fill-pencil text-[11px]">
        {Math.round(100 * one)} %
      </text>
    ))}
  </svg>
);

/** The range as a line, the estimate as a bar across it, each trial that has both as a dot. */
function Bar({ row, scale, base }: { row: Row; scale: Scale; base: boolean }) {
  if (row.ratio == null || row.low == null || row.high == null) return null;
  const middle = HIGH / 2;
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="block w-full" aria-hidden="true">
      {scale.ticks.map((one) => (
        <line
          key={one}
          x1={scale.at(one)}
          x2={scale.at(one)}
          y1="0"
          y2={HIGH}
          className={one === 1 ? "stroke-graphite" : "stroke-rule"}
        />
      ))}
      {!base && (
        <>
          <line
            x1={scale.at(row.low)}
            x2={scale.at(row.high)}
            y1={middle}
            y2={middle}
            strokeWidth="3"
            className="stroke-teal-5"
          />
          <rect x={scale.at(row.ratio) - 2} y={middle - 9} width="4" height="18" className="fill-graphite" />
          {row.met.map((one) => (
            <circle
              key={one}
              cx={scale.at(one)}
              cy={middle + 9}
              r="3"
              className="fill-sheet stroke-graphite"
            />
          ))}
        </>
      )}
    </svg>
  );
}
