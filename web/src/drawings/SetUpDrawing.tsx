// One clamp set-up: how the pieces lie in it, what presses, spacers and dummies.
import type { Schemas } from "../api/client";
import { INK } from "../ui/ink";

type SetUp = Schemas["SetUp"];

const ROOM = { wide: 300, below: 32 };

export function SetUpDrawing({ setUp, dummies = 0 }: { setUp: SetUp; dummies?: number }) {
  const columns = setUp.side_by_side;
  const rows = Math.min(setUp.in_line, 4);
  const piece = { w: Math.min(56, 220 / columns), h: Math.min(20, 56 / rows) };
  const left = ROOM.wide / 2 - (columns * (piece.w + 8) - 8) / 2;
  const top = 30;
  const bottom = top + rows * (piece.h + 2);
  const wide = columns * (piece.w + 8) + 8;
  const heads = Array.from(
    { length: setUp.clamps },
    (_, index) => left - 8 + (wide * (index + 0.5)) / setUp.clamps,
  );
  const weight = setUp.kind === "weight";
  return (
    <svg
      viewBox={`0 0 ${ROOM.wide} ${bottom + ROOM.below}`}
      className="w-full max-w-72"
      role="img"
      aria-label={`Clamp set-up: ${setUp.clamps} × ${setUp.name} over ${columns * setUp.in_line} pieces${dummies ? `, ${dummies} of them dummies` : ""}`}
    >
      {Array.from({ length: columns * rows }, (_, index) => {
        const column = index % columns;
        const x = left + column * (piece.w + 8);
        const y = top + Math.floor(index / columns) * (piece.h + 2);
        const dummy = column >= columns - dummies;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a place in the set-up is its number
          <g key={index}>
            <rect
              x={x}
              y={y}
              width={piece.w}
              height={piece.h}
              fill={dummy ? "none" : "#fff"}
              stroke={INK.graphite}
              strokeWidth={1.3}
              strokeDasharray={dummy ? "3 2" : undefined}
            />
            {!dummy && <path d={`M${x} ${y + piece.h / 2}h${piece.w}`} stroke={INK.amber} strokeWidth={3} />}
          </g>
        );
      })}
      <rect x={left - 8} y={top - 8} width={wide} height={6} fill={INK.rule} />
      <rect x={left - 8} y={bottom} width={wide} height={6} fill={INK.rule} />
      {heads.map((x) =>
        weight ? (
          <rect
            key={x}
            x={x - Math.min(40, wide / setUp.clamps / 2 - 2)}
            y={2}
            width={Math.min(80, wide / setUp.clamps - 4)}
            height={19}
            fill={INK.pencil}
          />
        ) : (
          <g key={x} stroke={INK.layout} strokeWidth={2.2} fill="none">
            <path d={`M${x} 0v20m-5-7l5 7 5-7`} />
            <path d={`M${x} ${bottom + 28}v-20m-5 7l5-7 5 7`} />
          </g>
        ),
      )}
    </svg>
  );
}
