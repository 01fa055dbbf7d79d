// So what, while breaking: this break against its set, and every set so far.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { convert, dayTime, digits, plainPercent, someLabels } from "../ui/format";
import { INK } from "../ui/ink";
import { Trouble } from "../ui/Trouble";
import { MayIStop } from "./MayIStop";
import { recompute, useOlderCalibrations } from "./queries";
import { canSpeak, doesSpeak, setSpeaks } from "./speech";

interface Props {
  view: Schemas["BreakView"];
  piece: Schemas["BreakPiece"] | undefined;
  peakMpa: number | null;
  /** Which place it takes in its set so far, in words. */
  place: string;
}

export function BreakSoWhat(props: Props) {
  const { rack } = useTrial();
  const [shown, setShown] = useState(() => localStorage.getItem(SHOWN) === "1");
  return (
    <>
      <Latest view={props.view} />
      <MayIStop />
      <ComputeAgain />
      {rack.hides_sets && <p>Blind: the sets stay hidden until every piece is broken.</p>}
      <label
        className={`flex min-h-[44px] items-center gap-2 border-t rule pt-2 ${rack.hides_sets ? "hidden" : ""}`}
      >
        <input
          type="checkbox"
          className="size-5 accent-layout"
          checked={shown}
          onChange={(event) => {
            localStorage.setItem(SHOWN, event.target.checked ? "1" : "0");
            setShown(event.target.checked);
          }}
        />
        Show the sets so far: they tempt
      </label>
      {shown && !rack.hides_sets && <SetsSoFar {...props} />}
      {canSpeak() && <Voice />}
    </>
  );
}

const SHOWN = "sets so far";

/** The last breaks, newest first; the newest can be taken back at once. */
function Latest({ view }: { view: Schemas["BreakView"] }) {
  const { select, undo } = useTrial();
  const { force, show } = useUnits();
  if (view.latest.length === 0) return <p className="pencil">The last breaks will stand here.</p>;
  return (
    <section aria-label="The last breaks">
      <h3 className="text-base">The last breaks</h3>
      <ol>
        {view.latest.map((one, index) => (
          <li key={one.piece_id} className="flex min-h-[40px] flex-wrap items-baseline gap-x-2 border-b rule">
            <button type="button" className="link mono" onClick={() => select(one.piece_id)}>
              {one.label}
            </button>
            <span className="grow">
              {one.outcome_words} {one.load_n !== null && <strong>{show(one.load_n, force)}</strong>}
              {one.wood_failure_pct !== null && `, ${plainPercent(one.wood_failure_pct)} torn`}
            </span>
            {index === 0 && (
              <button type="button" className="link" onClick={undo}>
                undo <span className="pencil">U</span>
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Breaks that were made before a rig was calibrated anew: offered to be computed again, both numbers kept. */
function ComputeAgain() {
  const { id } = useTrial();
  const older = useOlderCalibrations(id).data ?? [];
  const act = useAct(id);
  return older.map((one) => (
    <div key={one.rig_id} className="border-l-4 border-pencil pl-3">
      <p>
        {someLabels(one.pieces)} {one.pieces.length === 1 ? "was" : "were"} broken on {one.rig} before its
        calibration of {dayTime(one.made_utc)}.
      </p>
      <button
        type="button"
        className="link"
        disabled={act.busy}
        onClick={() => void act.run(() => recompute(id, one.rig_id))}
      >
        Compute again, keep both numbers
      </button>
      <Trouble problem={act.problem} />
    </div>
  ));
}

/** Whether the browser's voice repeats each load and names the next piece. */
function Voice() {
  const [on, setOn] = useState(doesSpeak);
  return (
    <label className="flex min-h-[44px] items-center gap-2">
      <input
        type="checkbox"
        className="size-5 accent-layout"
        checked={on}
        onChange={(event) => {
          setSpeaks(event.target.checked);
          setOn(event.target.checked);
        }}
      />
      Say each load and the next label aloud
    </label>
  );
}

function SetsSoFar({ view, piece, peakMpa, place }: Props) {
  const unit = useUnits().strength(useTrial().rack.strength_kind);
  const highest = Math.max(1e-9, peakMpa ?? 0, ...view.so_far.flatMap((set) => set.strengths)) * 1.05;
  const mine = view.so_far.find((set) => set.name === piece?.treatment);
  return (
    <>
      {place && <p>{place}</p>}
      <div className="grid gap-2">
        {view.so_far.map((set) => (
          <div key={set.name}>
            <p className="flex justify-between">
              <span className={`head ${set.name === mine?.name ? "text-layout" : ""}`}>{set.name}</span>
              <span className="mono pencil">
                {set.average === null ? "–" : `${digits(convert(set.average, unit))} ${unit.symbol}`}
              </span>
            </p>
            <svg
              viewBox="0 0 264 22"
              className="w-full"
              role="img"
              aria-label={`${set.strengths.length} pieces of ${set.name} so far`}
            >
              <path d="M4 12h256" stroke={INK.rule} />
              {set.strengths.map((strength) => (
                <circle
                  key={strength}
                  cx={4 + (256 * strength) / highest}
                  cy={12}
                  r={3.6}
                  fill={INK.graphite}
                  fillOpacity={0.7}
                />
              ))}
              {set.average !== null && (
                <path
                  d={`M${4 + (256 * set.average) / highest} 3v18`}
                  stroke={INK.graphite}
                  strokeWidth={2.4}
                />
              )}
              {set.name === mine?.name && peakMpa !== null && (
                <circle
                  cx={4 + (256 * peakMpa) / highest}
                  cy={12}
                  r={6}
                  fill="none"
                  stroke={INK.layout}
                  strokeWidth={2.4}
                />
              )}
            </svg>
          </div>
        ))}
      </div>
      <p className="pencil border-t rule pt-3 text-sm">
        Averages on the way are no verdict: the order of breaking is shuffled, and Compare says what is luck.
      </p>
    </>
  );
}
