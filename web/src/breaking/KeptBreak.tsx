// A break that is kept: what it says, on which rig, what was corrected of it, and what may be done with it.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Photo } from "../app/Photo";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { dayTime, plainPercent } from "../ui/format";
import { Correct } from "./Correct";
import { KeptTrace } from "./KeptTrace";
import { sendFacePhoto } from "./queries";

interface KeptProps {
  piece: Schemas["BreakPiece"];
  pull: Schemas["PullView"];
  excluded: boolean;
  onAside: () => void;
  onBack: () => void;
  onNext: () => void;
  onRetry: () => void;
}

export function KeptBreak({ piece, pull, excluded, onAside, onBack, onNext, onRetry }: KeptProps) {
  const { show, force, strength } = useUnits();
  const { id, rack } = useTrial();
  const [correcting, setCorrecting] = useState(false);
  return (
    <section className="mt-3">
      <p className="text-xl">
        {pull.outcome_words} {rack.strength_kind !== "stress" && <strong>{show(pull.load_n, force)}</strong>}
        {pull.load_typed
          ? ` (typed: ${pull.load_typed}${pull.load_through ? ` ${pull.load_through}` : ""})`
          : ""}
        {pull.load_point_reason ? ` (not at the highest: ${pull.load_point_reason})` : ""}
        {pull.held_n !== null && `, held ${show(pull.held_n, force)} before`}
        {pull.hold_typed && `, after ${pull.hold_typed}`}
        {pull.pried && ` (opened with: ${pull.pried})`},{" "}
        <strong>{show(pull.strength, strength(rack.strength_kind))}</strong>
      </p>
      {pull.rig && (
        <p className="pencil">
          on {pull.rig}
          {pull.version !== null && `, version ${pull.version} of its card`}
          {pull.resolution_n !== null && `, known to ${show(pull.resolution_n, force, 2)}`}
        </p>
      )}
      <p>
        {pull.wood_failure_pct === null
          ? "torn wood not judged"
          : `${plainPercent(pull.wood_failure_pct)} torn wood`}
        {pull.failure ? `, failed ${pull.failure_words}` : ""}
        {pull.note ? `. ${pull.note}` : ""}
      </p>
      {pull.outcome !== "held" && (
        <Photo
          photoId={pull.photo_id}
          name={`Broken face of ${piece.label}`}
          send={(file) => sendFacePhoto(id, pull.id, file)}
        />
      )}
      {pull.flags.map((flag) => (
        <p key={flag} className="pencil">
          {flag}
        </p>
      ))}
      {piece.corrections.map((one) => (
        <p key={`${one.at_utc} ${one.words}`} className="border-l-4 border-pencil pl-3">
          Corrected: {one.words} <del>{one.before}</del> → <strong>{one.after}</strong>, {one.reason}{" "}
          <span className="pencil text-sm">{dayTime(one.at_utc)}</span>
        </p>
      ))}
      {correcting && piece.values && (
        <Correct piece={piece} pull={pull} values={piece.values} onDone={() => setCorrecting(false)} />
      )}
      {(pull.source === "rig" || pull.dial) && (
        <KeptTrace pull={pull} label={piece.label} treatmentId={piece.treatment_id} />
      )}
      {piece.pulls.length > 1 && <p>Loaded {piece.pulls.length} times; the last try counts.</p>}
      <div className="mt-3 flex flex-wrap gap-3">
        {excluded ? (
          <button type="button" className="press" onClick={onBack}>
            Put back
          </button>
        ) : (
          <button type="button" className="press press-plain" onClick={onAside}>
            Set aside … <span className="pencil font-normal">X</span>
          </button>
        )}
        <button type="button" className="press press-plain" onClick={onRetry}>
          Load it again <span className="pencil font-normal">R</span>
        </button>
        {!correcting && (
          <button type="button" className="press press-plain" onClick={() => setCorrecting(true)}>
            Correct …
          </button>
        )}
        <Link className="press press-plain content-center" to={`../history?piece=${piece.id}`}>
          Its history
        </Link>
        <button type="button" className="press press-on" onClick={onNext}>
          Go to the next piece
        </button>
      </div>
    </section>
  );
}
