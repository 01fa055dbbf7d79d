// One board at the saw: its cut map with the steps, its pieces with their ticks, and when their faces were prepared.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { CutMap, type CutMapProps } from "../drawings/CutMap";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { markPrepared, markSawn } from "./queries";

type Piece = Schemas["MakingPiece"];

interface Props {
  name: string;
  species: string;
  pieces: Piece[];
  cuts: (CutMapProps["board"] & { size: CutMapProps["size"] | null; steps: string[] }) | undefined;
  prep: string;
  onRename: (piece: Piece) => void;
}

export function BoardSaw({ name, species, pieces, cuts, prep, onRename }: Props) {
  const { id, selected, select } = useTrial();
  const act = useAct(id);
  const ids = (chosen: Piece[]) => chosen.map((piece) => piece.id);
  const tick = (chosen: Piece[], sawn: boolean) => void act.run(() => markSawn(id, ids(chosen), sawn));
  const prepare = (chosen: Piece[], done: boolean) => void act.run(() => markPrepared(id, ids(chosen), done));
  const open = pieces.filter((piece) => piece.can.includes("saw"));
  const bare = pieces.filter((piece) => piece.can.includes("prepare"));
  const unprepared = bare.filter((piece) => piece.prepped_utc === null);
  const prepared = bare.filter((piece) => piece.prepped_utc !== null);
  return (
    <section className="mt-5">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 border-b rule pb-1">
        <h3 className="text-lg">
          {name} <span className="label">{species}</span>
        </h3>
        {open.length > 0 && (
          <button type="button" className="link" onClick={() => tick(open, true)}>
            tick the whole board
          </button>
        )}
      </div>
      {cuts?.size && open.length > 0 && (
        <figure className="mt-2">
          <CutMap board={cuts} size={cuts.size} />
          <ol className="mt-1 list-decimal pl-5 text-sm">
            {cuts.steps.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ol>
        </figure>
      )}
      <ul className="grid gap-2 pt-2 sm:grid-cols-2 lg:grid-cols-3">
        {pieces.map((piece) => (
          <li
            key={piece.id}
            className={`flex min-w-0 items-center gap-2 border px-2 ${piece.id === selected ? "border-layout bg-layout-pale" : "rule"}`}
          >
            <input
              type="checkbox"
              className="size-6 shrink-0 accent-layout"
              aria-label={`${piece.label} is sawn and labelled`}
              checked={piece.state !== "planned"}
              disabled={act.busy || !(piece.can.includes("saw") || piece.can.includes("unsaw"))}
              onChange={(event) => tick([piece], event.target.checked)}
            />
            <button
              type="button"
              className="min-h-[44px] min-w-0 grow py-1 text-left leading-tight"
              onClick={() => select(piece.id)}
            >
              <span className="mono block text-xl font-semibold whitespace-nowrap">{piece.label}</span>
              <span className="pencil block truncate text-sm">{piece.treatment}</span>
            </button>
            <button type="button" className="link text-sm" onClick={() => onRename(piece)}>
              relabel
            </button>
          </li>
        ))}
      </ul>
      {unprepared.length > 0 && (
        <p className="mt-2 flex flex-wrap items-center gap-3">
          <button
            type="button"
            className="press"
            disabled={act.busy}
            onClick={() => prepare(unprepared, true)}
          >
            Faces are prepared now
          </button>
          <span className="text-sm">{prep || "no surface prep is written down"}</span>
        </p>
      )}
      {prepared.length > 0 && (
        <p className="mt-2 text-sm">
          Faces prepared {dayTime(prepared[0]?.prepped_utc ?? "")}: freshly planed counts.{" "}
          <button type="button" className="link" onClick={() => prepare(prepared, false)}>
            take it back
          </button>
        </p>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}
