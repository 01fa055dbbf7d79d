// A pull that waits to be judged and came from no cable: a log. What it reached, what looks wrong, its trace.
import type { Schemas } from "../api/client";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { KeptTrace } from "./KeptTrace";

export function StoppedPull({ piece, pull }: { piece: Schemas["BreakPiece"]; pull: Schemas["PullView"] }) {
  const { rack } = useTrial();
  const { force, strength, show } = useUnits();
  return (
    <section className="mt-3" aria-label="The pull to judge">
      <p className="label">Load of this pull</p>
      <p className="mono text-6xl leading-none font-semibold">{show(pull.load_n, force)}</p>
      <p>{pull.strength !== null && `strength ${show(pull.strength, strength(rack.strength_kind))}`}</p>
      {pull.flags.map((flag) => (
        <p key={flag} className="border-l-4 border-pencil pl-3">
          {flag}
        </p>
      ))}
      <KeptTrace pull={pull} label={piece.label} treatmentId={piece.treatment_id} />
    </section>
  );
}
