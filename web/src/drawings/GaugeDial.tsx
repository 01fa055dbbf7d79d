// The gauge of a jack: its scale up to what the rig carries, and the needle where it was read.
import { INK } from "../ui/ink";
import { roundNumbers } from "./ticks";

interface Props {
  /** All in the gauge's unit; `value` null while nothing is typed. */
  value: number | null;
  most: number;
  division: number;
  unit: string;
}

const SWEEP = { from: -225, to: 45 };

export function GaugeDial({ value, most, division, unit }: Props) {
  const at = (shown: number) => {
    const share = Math.min(Math.max(shown / most, 0), 1.06);
    return ((SWEEP.from + (SWEEP.to - SWEEP.from) * share) * Math.PI) / 180;
  };
  const point = (shown: number, radius: number) =>
    `${90 + radius * Math.cos(at(shown))} ${88 + radius * Math.sin(at(shown))}`;
  const named = roundNumbers(0, most, 5);
  const fine = most / division <= 120 ? Math.round(most / division) : 0;
  return (
    <svg
      viewBox="0 0 180 168"
      className="w-full max-w-60"
      role="img"
      aria-label={
        value === null ? `Gauge up to ${most} ${unit}` : `Gauge at ${value} ${unit} of ${most} ${unit}`
      }
    >
      <circle cx={90} cy={88} r={78} fill={INK.sheet} stroke={INK.graphite} strokeWidth={2} />
      {Array.from({ length: fine + 1 }, (_, step) => step * division).map((shown) => (
        <path
          key={shown}
          d={`M${point(shown, 72)}L${point(shown, 66)}`}
          stroke={INK.pencil}
          strokeWidth={0.8}
        />
      ))}
      {named.map((shown) => (
        <g key={shown}>
          <path d={`M${point(shown, 72)}L${point(shown, 60)}`} stroke={INK.graphite} strokeWidth={1.8} />
          <text
            x={90 + 47 * Math.cos(at(shown))}
            y={92 + 47 * Math.sin(at(shown))}
            fontSize={12}
            textAnchor="middle"
            fill={INK.graphite}
          >
            {shown}
          </text>
        </g>
      ))}
      <text x={90} y={142} fontSize={14} textAnchor="middle" fontWeight={620} fill={INK.graphite}>
        {unit}
      </text>
      <path
        d={`M${point(value ?? 0, -14)}L${point(value ?? 0, 64)}`}
        stroke={value === null ? INK.rule : INK.layout}
        strokeWidth={3}
      />
      <circle cx={90} cy={88} r={5} fill={INK.graphite} />
    </svg>
  );
}
