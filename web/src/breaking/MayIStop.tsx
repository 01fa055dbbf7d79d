// May I stop? What a trial that planned to look may say after each complete board.
import { useState } from "react";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";
import { stopByRule, useLook } from "./queries";

export function MayIStop() {
  const { id } = useTrial();
  const look = useLook(id).data;
  const act = useAct(id);
  const [sure, setSure] = useState(false);
  if (!look?.planned) return null;
  return (
    <section className="border-t rule pt-3" aria-label="May I stop?">
      <h3 className="text-base">May I stop?</h3>
      <p className="pencil text-sm">
        {look.complete} of {look.boards} boards complete
      </p>
      <p className="mt-1 text-lg leading-snug" role="status">
        {look.headline}
      </p>
      <p className="pencil mt-1 text-sm">{look.why}</p>
      {look.settled && look.left.length > 0 && !look.stopped && !sure && (
        <button type="button" className="press mt-2" onClick={() => setSure(true)}>
          Stop here …
        </button>
      )}
      {sure && !look.stopped && (
        <div className="mt-2 flex flex-wrap gap-3">
          <button
            type="button"
            className="press press-on"
            disabled={act.busy}
            onClick={() => void act.run(() => stopByRule(id, look.complete)).then(() => setSure(false))}
          >
            Leave {look.left.length} pieces whole
          </button>
          <button type="button" className="press press-plain" onClick={() => setSure(false)}>
            Go on breaking
          </button>
        </div>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

/** The settled answer where the work is, for a narrow screen: the rest stands under So what. */
export function Settled() {
  const { id } = useTrial();
  const look = useLook(id).data;
  if (!look?.settled || look.stopped || look.left.length === 0) return null;
  return (
    <a href="#so-what" className="link mb-2 block border-l-4 border-layout pl-3">
      {look.headline}
    </a>
  );
}
