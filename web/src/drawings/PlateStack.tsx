// The plates that hang on a piece, as they hang: the first ones on top of the hanger's foot.
import { INK } from "../ui/ink";

interface Props {
  /** What hangs, first to last: a name and a share of the heaviest plate. */
  plates: { name: string; share: number }[];
  hanger: string;
}

const FOOT = 150;

export function PlateStack({ plates, hanger }: Props) {
  const high = Math.min(17, 104 / Math.max(plates.length, 1));
  return (
    <svg
      viewBox="0 0 220 168"
      className="w-full max-w-60"
      role="img"
      aria-label={
        plates.length ? `Hanging: ${plates.map((one) => one.name).join(", ")}` : "Nothing hangs on the hanger"
      }
    >
      <path d="M20 12h150" stroke={INK.graphite} strokeWidth={10} />
      <path d={`M95 17V${FOOT}M65 ${FOOT}h60`} stroke={INK.graphite} strokeWidth={3} />
      {plates.map((plate, index) => {
        const wide = 44 + 96 * Math.sqrt(plate.share);
        const y = FOOT - (index + 1) * high;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a plate is its place on the hanger
          <g key={index}>
            <rect
              x={95 - wide / 2}
              y={y + 1}
              width={wide}
              height={high - 2}
              fill={INK.sheet}
              stroke={INK.graphite}
              strokeWidth={1.5}
            />
            {high > 13 && (
              <text x={95} y={y + high / 2 + 4.5} fontSize={12} textAnchor="middle" fill={INK.graphite}>
                {plate.name}
              </text>
            )}
          </g>
        );
      })}
      <text x={95} y={165} fontSize={12} textAnchor="middle" fill={INK.pencil}>
        {hanger}
      </text>
    </svg>
  );
}
