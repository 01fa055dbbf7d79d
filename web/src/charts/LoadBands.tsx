// What each set will roughly break at, as a band against the rig's limit.
import type { Schemas } from "../api/client";
import { convert, digits, type Shown } from "../ui/format";
import { INK } from "../ui/ink";

interface Props {
  bands: readonly Schemas["LoadBand"][];
  reaches: readonly Schemas["Reach"][];
  capacity_n: number | null;
  safe_n: number | null;
  unit: Shown;
}

const WIDE = 264;
const NAMES = 92;
const ROW = 22;
const SHOWN = 9;
const FAR = 5;

export function LoadBands({ bands, reaches, capacity_n, safe_n, unit }: Props) {
  const rows = gather(bands, reaches);
  const shown = rows.slice(0, SHOWN);
  const highest = Math.max(1e-9, ...shown.map((row) => row.band.high_n));
  // a limit far beyond would squeeze every band into a line
  const far = capacity_n !== null && capacity_n > FAR * highest;
  const limit_n = far ? null : capacity_n;
  const top = Math.max(limit_n ?? 0, highest) * 1.06;
  const x = (load: number) => NAMES + (load / top) * (WIDE - NAMES);
  const high = shown.length * ROW + 26;
  return (
    <>
      <svg
        viewBox={`0 0 ${WIDE} ${high}`}
        className="w-full"
        role="img"
        aria-label="Expected breaking load of each set against the rig"
      >
        {limit_n !== null && (
          <rect
            x={x(safe_n ?? limit_n)}
            y={0}
            width={WIDE - x(safe_n ?? limit_n)}
            height={high - 22}
            fill={INK.ironBand}
          />
        )}
        {shown.map((row, index) => (
          <g key={row.names.join()} transform={`translate(0 ${index * ROW})`}>
            <title>{`${row.names.join(", ")}: ${row.band.words}`}</title>
            <text x={0} y={15} className="head fill-graphite text-[13px]">
              {rows.length === 1 && row.names.length > 1 ? "every set" : short(row.names)}
            </text>
            <rect
              x={x(row.band.low_n)}
              y={7}
              width={Math.max(2, x(row.band.high_n) - x(row.band.low_n))}
              height={9}
              fill={row.reach === "fits" || row.reach === undefined ? INK.tealBand : INK.iron}
            />
            <path d={`M${x(row.band.expected_n)} 4v15`} stroke={INK.graphite} strokeWidth={1.6} />
          </g>
        ))}
        {limit_n !== null && <path d={`M${x(limit_n)} 0v${high - 22}`} stroke={INK.iron} strokeWidth={2} />}
        <text x={NAMES} y={high - 6} className="fill-pencil text-[12px]">
          0
        </text>
        <text x={WIDE} y={high - 6} textAnchor="end" className="fill-pencil text-[12px]">
          {limit_n !== null
            ? `rig ${digits(convert(limit_n, unit), 2)} ${unit.symbol}`
            : `${digits(convert(top, unit), 2)} ${unit.symbol}`}
        </text>
      </svg>
      {far && (
        <p className="pencil text-sm">
          The rig pulls {digits(convert(capacity_n ?? 0, unit), 2)} {unit.symbol}, far beyond.
        </p>
      )}
      {rows.length > SHOWN && <p className="pencil text-sm">and {rows.length - SHOWN} more sets</p>}
    </>
  );
}

interface Row {
  names: string[];
  band: Schemas["LoadBand"];
  reach: Schemas["Reach"] | undefined;
}

/** Sets with the same band are one row; the strongest first. */
function gather(bands: Props["bands"], reaches: Props["reaches"]): Row[] {
  const rows = new Map<string, Row>();
  bands.forEach((band, index) => {
    const key = `${band.low_n.toFixed(3)} ${band.high_n.toFixed(3)}`;
    const row = rows.get(key);
    if (row) row.names.push(band.name);
    else rows.set(key, { names: [band.name], band, reach: reaches[index] });
  });
  return [...rows.values()].sort((a, b) => b.band.expected_n - a.band.expected_n);
}

function short(names: string[]): string {
  const first = names[0] ?? "";
  const more = names.length > 1 ? ` +${names.length - 1}` : "";
  const room = 15 - more.length;
  return (first.length > room ? `${first.slice(0, room - 1)}…` : first) + more;
}
