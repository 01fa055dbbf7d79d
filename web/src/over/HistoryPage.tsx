// The history of a trial: when, what, which piece, from what to what, and why.
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Station, useTrial } from "../app/TrialShell";
import { dayTime } from "../ui/format";
import { Pick } from "../ui/Pick";
import { useHistory } from "./queries";

export function HistoryPage() {
  const { id, selected, select } = useTrial();
  const view = useHistory(id, selected).data;
  return (
    <Station aside={<Aside />}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">What was done</h2>
        {view && (
          <div className="w-56">
            <Pick
              label="Of"
              value={String(selected ?? "")}
              options={[
                ["", "all pieces"],
                ...view.pieces.map((one) => [String(one.id), one.label] as const),
              ]}
              onChange={(piece) => select(piece ? Number(piece) : null)}
            />
          </div>
        )}
      </div>
      {view?.lines.length === 0 && <p className="pencil mt-3">Nothing was done yet.</p>}
      <ol className="mt-3">
        {view?.lines.map((line) => (
          <Line key={line.id} line={line} onPiece={select} />
        ))}
      </ol>
      {view && !view.is_whole && (
        <p className="pencil mt-3">Older changes are kept; choose a piece to see all of its own.</p>
      )}
    </Station>
  );
}

const Aside = () => (
  <>
    <p>
      Everything that was ever changed stays here, also what was undone since. Nothing recorded changes
      without a line.
    </p>
    <p>
      A value of a kept break is corrected at{" "}
      <Link className="link" to="../break">
        Break
      </Link>
      , with a reason.
    </p>
  </>
);

interface LineProps {
  line: Schemas["HistoryLine"];
  onPiece: (id: number) => void;
}

function Line({ line, onPiece }: LineProps) {
  return (
    <li className="grid gap-x-4 border-b rule py-2 sm:grid-cols-[8.5rem_1fr]">
      <time className="mono pencil text-sm" dateTime={line.at_utc}>
        {dayTime(line.at_utc)}
      </time>
      <div>
        <p className={line.undone ? "line-through" : ""}>
          <strong>{line.what}</strong>
          {line.reason && `: ${line.reason}`}
        </p>
        {line.undone && <p className="pencil text-sm">undone since</p>}
        <ul>
          {[...Map.groupBy(line.details, (one) => one.piece_id)].map(([piece, details]) => (
            <li key={piece} className="flex flex-wrap gap-x-3">
              {piece !== null && (
                <button type="button" className="link mono" onClick={() => onPiece(piece)}>
                  {details[0]?.label}
                </button>
              )}
              {details.map((one) => (
                <span key={one.words}>
                  <span className="pencil">{one.words}</span> {one.before && <del>{said(one.before)}</del>}
                  {one.before && " → "}
                  {said(one.after) || "nothing"}
                </span>
              ))}
            </li>
          ))}
        </ul>
        {line.more > 0 && <p className="pencil text-sm">and {line.more} more</p>}
      </div>
    </li>
  );
}

/** A value as a person reads it: a moment of the file in local time. */
const said = (value: string) =>
  /^\d{4}-\d\d-\d\dT[\d:.]+(Z|[+-]\d\d:\d\d)$/.test(value) ? dayTime(value) : value;
