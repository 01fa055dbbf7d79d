// A piece as a small drawing of its joint; the drawing is the state. 48 by 26 units.
import type { Schemas } from "../api/client";
import { INK } from "../ui/ink";
import { strengthFill } from "./strength";

type Piece = Pick<Schemas["RackPiece"], "state" | "solid" | "wood_failure_pct" | "excluded" | "outcome"> & {
  share?: number;
};

const GRAIN = [8, 13, 18];

export function PieceGlyph({ piece }: { piece: Piece }) {
  const { state, solid } = piece;
  const broken = state === "broken";
  const dashed = state === "planned" || state === "void";
  const line = dashed ? INK.pencil : INK.graphite;
  const fill = broken ? strengthFill(piece.share ?? 0.4) : "#fff";
  const grain = broken ? ((piece.share ?? 0.4) > 0.45 ? "#ffffff66" : "#16201d55") : "#16201d3a";
  const half = (x: number, width: number) => (
    <g>
      <rect
        x={x}
        y={4}
        width={width}
        height={18}
        fill={fill}
        stroke={line}
        strokeWidth={1.2}
        strokeDasharray={dashed ? "3 2" : undefined}
      />
      {!dashed &&
        GRAIN.map((y) => (
          <path key={y} d={`M${x + 1.5} ${y}h${width - 3}`} stroke={grain} strokeWidth={0.9} />
        ))}
    </g>
  );
  return (
    <g>
      {solid && !broken ? half(2, 44) : null}
      {!solid && !broken ? half(2, 21.5) : null}
      {!solid && !broken ? half(24.5, 21.5) : null}
      {!solid && (state === "clamped" || state === "curing") && (
        <path d="M24 3.4v19.2" stroke={INK.amber} strokeWidth={3.4} />
      )}
      {!solid && state === "ready" && <path d="M24 3.4v19.2" stroke={INK.graphite} strokeWidth={2} />}
      {state === "clamped" && <path d="M17 1.4h14M17 24.6h14" stroke={INK.graphite} strokeWidth={2.2} />}
      {broken && (
        <BrokenHalves fill={fill} torn={solid ? 100 : (piece.wood_failure_pct ?? 0)} grain={grain} />
      )}
      {broken && piece.outcome === "held" && (
        <path d="M24 2v-2m-3 2l3-3 3 3" stroke={INK.graphite} fill="none" strokeWidth={1.4} />
      )}
      {(piece.excluded || state === "void") && <path d="M1 24L47 2" stroke={INK.iron} strokeWidth={2} />}
    </g>
  );
}

/** Two halves with a jagged gap; the torn share of the gap in wood brown, from below. */
function BrokenHalves({ fill, torn, grain }: { fill: string; torn: number; grain: string }) {
  const top = 4 + 18 * (1 - torn / 100);
  return (
    <g>
      {torn > 0 && <rect x={19} y={top} width={10} height={22 - top} fill={INK.torn} />}
      <path
        d="M2 4h19l-2 3.6 3 3.6-3 3.6 3 3.6-2 3.6H2z"
        fill={fill}
        stroke={INK.graphite}
        strokeWidth={1.2}
      />
      <path
        d="M46 4H27l-2 3.6 3 3.6-3 3.6 3 3.6-2 3.6h18z"
        fill={fill}
        stroke={INK.graphite}
        strokeWidth={1.2}
      />
      {GRAIN.map((y) => (
        <path key={y} d={`M4 ${y}h13M31 ${y}h13`} stroke={grain} strokeWidth={0.9} />
      ))}
    </g>
  );
}
