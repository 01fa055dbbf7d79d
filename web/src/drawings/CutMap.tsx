// One board as it is sawn, to scale: its parts with their labels, the stretches to skip, what is left.
import type { Schemas } from "../api/client";
import { INK } from "../ui/ink";

export interface CutMapProps {
  board: Pick<Schemas["BoardMap"], "name" | "cuts" | "offcuts" | "layers">;
  size: { length_mm: number; width_mm: number; defects: readonly (readonly number[])[] };
}

const WIDE = 660;
const GAP = 10;

export function CutMap({ board, size }: CutMapProps) {
  const scale = WIDE / size.length_mm;
  const high = Math.max(size.width_mm * scale, 26);
  const up = high / size.width_mm;
  const layers = Math.max(1, board.layers);
  const total = layers * high + (layers - 1) * GAP;
  return (
    <svg
      viewBox={`-1 -1 ${WIDE + 2} ${total + 2}`}
      className="mt-1 w-full"
      role="img"
      aria-label={`Cut map of ${board.name}: ${board.cuts.length} parts`}
    >
      <defs>
        <pattern id="skip" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0v6" stroke={INK.iron} strokeWidth="1.4" />
        </pattern>
      </defs>
      {Array.from({ length: layers }, (_, layer) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a layer is its number
        <g key={layer} transform={`translate(0 ${layer * (high + GAP)})`}>
          <rect width={WIDE} height={high} fill={INK.cell} stroke={INK.graphite} strokeWidth={1.2} />
          {size.defects.map(([from = 0, to = 0]) => (
            <rect key={from} x={from * scale} width={(to - from) * scale} height={high} fill="url(#skip)" />
          ))}
          {layer === 0 &&
            board.offcuts.map((one) => (
              <rect
                key={`${one.x_mm} ${one.y_mm}`}
                x={one.x_mm * scale}
                y={one.y_mm * up}
                width={one.length_mm * scale}
                height={one.width_mm * up}
                fill="none"
                stroke={INK.pencil}
                strokeDasharray="3 3"
              />
            ))}
          {board.cuts
            .filter((cut) => cut.layer === layer)
            .map((cut) => (
              <PartShape key={`${cut.label} ${cut.words}`} cut={cut} scale={scale} up={up} />
            ))}
        </g>
      ))}
    </svg>
  );
}

function PartShape({ cut, scale, up }: { cut: Schemas["CutView"]; scale: number; up: number }) {
  const [x, y, wide, high] = [
    cut.x_mm * scale,
    cut.y_mm * up,
    cut.length_mm * scale,
    cut.width_mm * up,
  ] as const;
  const upright = wide < cut.label.length * 6.2 && high > wide;
  const room = upright ? high : wide;
  const type = Math.max(5, Math.min(12, (room - 4) / (0.62 * cut.label.length), (upright ? wide : high) - 2));
  return (
    <g>
      <title>{`${cut.label}, ${cut.words}, ${cut.treatment}`}</title>
      <rect x={x} y={y} width={wide} height={high} fill="#fff" stroke={INK.graphite} strokeWidth={1} />
      {[0.25, 0.75].map((at) => (
        <path key={at} d={`M${x + 2} ${y + at * high}h${Math.max(0, wide - 4)}`} stroke="#16201d22" />
      ))}
      <text
        className="mono fill-graphite"
        fontSize={type}
        textAnchor="middle"
        dominantBaseline="central"
        transform={`translate(${x + wide / 2} ${y + high / 2})${upright ? " rotate(-90)" : ""}`}
      >
        {cut.label}
      </text>
    </g>
  );
}
