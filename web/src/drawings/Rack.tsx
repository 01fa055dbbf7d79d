// The rack: the boards with the pieces where they sit on them. The drawing is the state.
import { useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { INK } from "../ui/ink";
import { useKeys } from "../ui/keys";
import { PieceGlyph } from "./PieceGlyph";
import { shareOf, strengthFill } from "./strength";

type RackView = Schemas["RackView"];
type RackPiece = Schemas["RackPiece"];

interface Props {
  rack: RackView;
  selected: number | null;
  onSelect: (pieceId: number | null) => void;
}

const COMPACT_ABOVE = 150;

const STATES: [RackPiece["state"], string][] = [
  ["planned", "to saw"],
  ["sawn", "sawn"],
  ["clamped", "in clamps"],
  ["curing", "curing"],
  ["ready", "ready"],
  ["broken", "broken"],
  ["void", "void"],
];

export function Rack({ rack, selected, onSelect }: Props) {
  const [filter, setFilter] = useState("");
  const [find, setFind] = useState("");
  const finder = useRef<HTMLInputElement>(null);
  const strengths = rack.pieces
    .map((piece) => piece.strength)
    .filter((s): s is number => s !== null && s > 0);
  const [lowest, highest] = [Math.min(...strengths), Math.max(...strengths)];
  const byBoard = useMemo(() => Map.groupBy(rack.pieces, (piece) => piece.board), [rack.pieces]);
  const order = useMemo(
    () => rack.boards.flatMap((board) => byBoard.get(board.id) ?? []).filter((piece) => piece.id !== null),
    [rack.boards, byBoard],
  );
  const step = (by: number) => {
    const at = order.findIndex((piece) => piece.id === selected);
    const next = order[at < 0 ? 0 : (at + by + order.length) % order.length];
    if (next) onSelect(next.id);
  };
  useKeys({
    "/": { words: "find a piece by its label", press: () => finder.current?.focus() },
    ArrowRight: { words: "next piece in the rack", press: () => step(1) },
    ArrowLeft: { words: "piece before", press: () => step(-1) },
    Escape: { words: "select nothing", press: () => onSelect(null) },
  });
  const shows = (piece: RackPiece) => {
    const [kind, value] = filter.split(":");
    if (!kind) return true;
    if (kind === "set") return String(piece.treatment) === value;
    if (kind === "board") return String(piece.board) === value;
    if (kind === "batch") return String(piece.batch) === value;
    if (kind === "aside") return piece.excluded || piece.state === "void";
    return piece.state === value;
  };
  const search = (text: string) => {
    setFind(text);
    const wanted = text.trim().toLowerCase();
    const plain = (label: string) => label.toLowerCase().replace("-", "");
    const found = order.find((piece) => plain(piece.label) === wanted.replace("-", ""));
    if (found) onSelect(found.id);
  };
  const compact = rack.pieces.length > COMPACT_ABOVE;
  const batches = [...new Set(rack.pieces.map((piece) => piece.batch).filter((b) => b !== null))];
  return (
    <section
      aria-label="The rack"
      className="px-3 py-4 lg:sticky lg:top-0 lg:max-h-screen lg:self-start lg:overflow-y-auto"
    >
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="text-base">The rack</h2>
        <span className="pencil text-sm">seed {rack.seed}</span>
      </div>
      {rack.pieces.length > 0 && (
        <div className="mt-2 grid grid-cols-[1fr_5.2rem] gap-2">
          <select
            aria-label="Show in the rack"
            className="entry min-h-[36px] px-1 py-0 text-sm"
            value={filter}
            onChange={(event) => setFilter(event.target.value)}
          >
            <option value="">all pieces</option>
            {rack.treatments.map((set) => (
              <option key={set.id} value={`set:${set.id}`}>
                {set.name}
              </option>
            ))}
            {rack.boards.map((board) => (
              <option key={board.id} value={`board:${board.id}`}>
                {board.name}
              </option>
            ))}
            {batches.map((batch, index) => (
              <option key={batch} value={`batch:${batch}`}>
                glue-up {index + 1}
              </option>
            ))}
            {STATES.map(([state, words]) => (
              <option key={state} value={`state:${state}`}>
                {words}
              </option>
            ))}
            <option value="aside:">set aside or void</option>
          </select>
          <input
            ref={finder}
            aria-label="Find a label"
            placeholder="label /"
            className="entry mono min-h-[36px] px-2 py-0 text-sm"
            value={find}
            onChange={(event) => search(event.target.value)}
            onFocus={(event) => event.target.select()}
            onKeyDown={(event) =>
              (event.key === "Enter" || event.key === "Escape") && event.currentTarget.blur()
            }
          />
        </div>
      )}
      <Chosen rack={rack} pieceId={selected} />
      {rack.boards.length === 0 && (
        <p className="pencil mt-3 text-sm">
          No boards yet. They appear here with their pieces, as they will be cut.
        </p>
      )}
      <div className="mt-3 grid gap-3">
        {rack.boards.map((board) => (
          <div key={board.id}>
            <div className="flex items-baseline justify-between">
              <h3 className="text-[0.92rem]">{board.name}</h3>
              <span className="label">{board.species}</span>
            </div>
            <Board
              pieces={byBoard.get(board.id) ?? []}
              places={board.holds}
              compact={compact}
              selected={selected}
              onSelect={onSelect}
              shows={shows}
              share={(strength) => shareOf(strength, lowest, highest)}
            />
          </div>
        ))}
      </div>
    </section>
  );
}

function Chosen({ rack, pieceId }: { rack: RackView; pieceId: number | null }) {
  const piece = pieceId === null ? undefined : rack.pieces.find((one) => one.id === pieceId);
  if (!piece) return null;
  const set = rack.treatments.find((one) => one.id === piece.treatment);
  const words = STATES.find(([state]) => state === piece.state)?.[1];
  return (
    <p className="mt-2 border-l-4 border-layout pl-2 text-sm" aria-live="polite">
      <span className="mono text-base font-semibold">{piece.label}</span> {set?.name}, {words}
      {piece.excluded ? ", set aside" : ""}
    </p>
  );
}

interface BoardProps {
  pieces: RackPiece[];
  places: number;
  compact: boolean;
  selected: number | null;
  onSelect: (pieceId: number | null) => void;
  shows: (piece: RackPiece) => boolean;
  share: (strength: number | null) => number;
}

function Board({ pieces, places, compact, selected, onSelect, shows, share }: BoardProps) {
  if (compact) return <CompactBoard {...{ pieces, selected, onSelect, shows, share }} />;
  const free = Math.max(0, places - pieces.length);
  return (
    <div className="grid grid-cols-[repeat(auto-fill,minmax(3.6rem,1fr))] border rule bg-cell px-1 py-1">
      {pieces.map((piece) => (
        <button
          key={piece.label}
          type="button"
          disabled={piece.id === null}
          aria-label={`${piece.label}, ${piece.state}${piece.excluded ? ", set aside" : ""}`}
          aria-pressed={piece.id !== null && piece.id === selected}
          className={`border-2 px-0.5 pt-0.5 leading-none ${piece.id !== null && piece.id === selected ? "border-layout bg-layout-pale" : "border-transparent"} ${shows(piece) ? "" : "opacity-20"}`}
          onClick={() => onSelect(piece.id)}
        >
          <svg viewBox="0 0 48 26" className="w-full" aria-hidden="true">
            <PieceGlyph piece={{ ...piece, share: share(piece.strength) }} />
          </svg>
          <span className="mono text-[0.82rem]">{piece.label}</span>
        </button>
      ))}
      {free > 0 && <span className="pencil self-center px-1 text-xs">{free} free</span>}
    </div>
  );
}

const CELL = 13;
const PER_ROW = 19;

/** Hundreds of pieces: one cell each, its fill the strength, its edge the state; the label stands above when chosen. */
function CompactBoard({ pieces, selected, onSelect, shows, share }: Omit<BoardProps, "places" | "compact">) {
  const rows = Math.ceil(pieces.length / PER_ROW);
  const pick = (event: React.MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const column = Math.floor(((event.clientX - box.left) / box.width) * PER_ROW);
    const row = Math.floor(((event.clientY - box.top) / box.height) * rows);
    const piece = pieces[row * PER_ROW + column];
    if (piece) onSelect(piece.id);
  };
  const draw = (stroke: (piece: RackPiece, x: number, y: number) => string) =>
    pieces.map((piece, index) => (shows(piece) ? stroke(piece, left(index), top(index)) : "")).join("");
  // one path for each kind of mark: hundreds of pieces are few elements
  const marks = [
    {
      d: draw(({ state }, x, y) => (state === "ready" ? `M${x + CELL / 2} ${y + 2}v${CELL - 4}` : "")),
      stroke: INK.graphite,
      width: 1.2,
    },
    {
      d: draw(({ wood_failure_pct: torn }, x, y) =>
        torn ? `M${x + 2} ${y + CELL - 3.5}h${((CELL - 4) * torn) / 100}` : "",
      ),
      stroke: INK.torn,
      width: 3,
    },
    {
      d: draw(({ state, excluded }, x, y) =>
        excluded || state === "void" ? `M${x + 1} ${y + CELL - 1}L${x + CELL - 1} ${y + 1}` : "",
      ),
      stroke: INK.iron,
      width: 1.4,
    },
  ];
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: arrow keys and the label field select pieces for the whole rack
    <svg
      viewBox={`0 0 ${PER_ROW * CELL} ${rows * CELL}`}
      className="w-full cursor-pointer bg-cell"
      role="img"
      aria-label={`${pieces.length} pieces`}
      onClick={pick}
    >
      {pieces.map((piece, index) => {
        const open = piece.state === "planned" || piece.state === "void";
        const chosen = piece.id !== null && piece.id === selected;
        return (
          <rect
            key={piece.label}
            x={left(index) + 1.5}
            y={top(index) + 1.5}
            width={CELL - 3}
            height={CELL - 3}
            fill={piece.state === "broken" ? strengthFill(share(piece.strength)) : CELL_FILL[piece.state]}
            stroke={chosen ? INK.layout : open ? INK.pencil : INK.graphite}
            strokeWidth={chosen ? 2.5 : 0.7}
            strokeDasharray={open ? "2 1.5" : undefined}
            opacity={shows(piece) ? 1 : 0.2}
          />
        );
      })}
      {marks.map(
        ({ d, stroke, width }) => d && <path key={stroke} d={d} stroke={stroke} strokeWidth={width} />,
      )}
    </svg>
  );
}

const left = (index: number) => (index % PER_ROW) * CELL;
const top = (index: number) => Math.floor(index / PER_ROW) * CELL;

const CELL_FILL: Record<RackPiece["state"], string> = {
  planned: INK.sheet,
  sawn: INK.sheet,
  clamped: INK.amber,
  curing: INK.amberPale,
  ready: INK.sheet,
  broken: INK.sheet,
  void: INK.sheet,
};
