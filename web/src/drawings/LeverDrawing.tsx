// A lever: its pivot, the arm of the piece, the arm of what hangs, and where it balances.
import { INK } from "../ui/ink";

interface Props {
  /** Arms from the pivot, mm; with a ratio alone the arms are drawn in that ratio, without numbers. */
  arm_piece_mm: number | null;
  arm_hung_mm: number | null;
  balance_mm: number | null;
  ratio: number;
  /** How an arm is written. */
  say: (mm: number) => string;
}

const PIVOT = 24;
const LONG = 222;

export function LeverDrawing({ arm_piece_mm, arm_hung_mm, balance_mm, ratio, say }: Props) {
  const hung = arm_hung_mm ?? ratio;
  const piece = arm_piece_mm ?? 1;
  const most = Math.max(hung, piece, balance_mm ?? 0);
  const x = (arm: number) => PIVOT + (LONG * arm) / most;
  // an arm too short to show keeps its place apart from the pivot
  const atPiece = Math.max(x(piece), PIVOT + 26);
  const atHung = x(hung);
  return (
    <svg
      viewBox="0 0 300 150"
      className="w-full max-w-80"
      role="img"
      aria-label={`Lever of 1 : ${Number(ratio.toPrecision(3))}${arm_piece_mm && arm_hung_mm ? `, the piece ${say(arm_piece_mm)} and the weight ${say(arm_hung_mm)} from the pivot` : ""}`}
    >
      <path d={`M${PIVOT} 66l-12 20h24z`} fill={INK.sheet} stroke={INK.graphite} strokeWidth={2} />
      <path d={`M${PIVOT - 8} 56H${Math.max(atHung, atPiece) + 22}`} stroke={INK.graphite} strokeWidth={8} />
      <rect
        x={atPiece - 9}
        y={60}
        width={18}
        height={34}
        fill={INK.sheet}
        stroke={INK.graphite}
        strokeWidth={1.6}
      />
      <path d={`M${atPiece - 9} 77h18`} stroke={INK.amber} strokeWidth={3} />
      <path d={`M${atHung} 60v26`} stroke={INK.graphite} strokeWidth={1.6} />
      <path d={`M${atHung - 15} 86h30v22h-30z`} fill={INK.rule} stroke={INK.graphite} strokeWidth={1.6} />
      {balance_mm !== null && (
        <path d={`M${x(balance_mm)} 62l-6 10h12z`} fill={INK.pencil}>
          <title>{`It balances ${say(balance_mm)} from the pivot`}</title>
        </path>
      )}
      <path
        d={`M${PIVOT} 30V12M${atPiece} 30V20M${PIVOT} 24H${atPiece}M${atHung} 30V12M${PIVOT} 15H${atHung}`}
        stroke={INK.pencil}
        fill="none"
      />
      <text x={atHung - 6} y={12} fontSize={16} textAnchor="end" fill={INK.graphite}>
        {arm_hung_mm ? say(arm_hung_mm) : `${Number(ratio.toPrecision(3))} times as long`}
      </text>
      <text x={atPiece + 6} y={36} fontSize={16} fill={INK.graphite}>
        {arm_piece_mm ? say(arm_piece_mm) : ""}
      </text>
      <text x={atHung} y={128} fontSize={16} textAnchor="middle" fill={INK.graphite}>
        what hangs
      </text>
      <text
        x={atPiece}
        y={114}
        fontSize={16}
        textAnchor={atPiece < 60 ? "start" : "middle"}
        fill={INK.graphite}
      >
        the piece
      </text>
    </svg>
  );
}
