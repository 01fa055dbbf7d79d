// What the person concludes, each clause held against the numbers.
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";
import { conclude } from "./queries";

export function Claims({ claims }: { claims: Schemas["Answer"][] }) {
  return (
    <>
      {claims.map((one) => (
        <p key={one.text + one.understood} className="mt-1">
          <strong className={one.standing === "contradicted" ? "text-iron" : ""}>
            {capital(one.standing)}
          </strong>
          {one.understood ? `, understood as: ${one.understood}` : `: “${one.text}”`}. {one.words}
          {Object.entries(one.taken_as ?? {}).map(([typed, taken]) => ` “${typed}” was taken as ${taken}.`)}
        </p>
      ))}
    </>
  );
}

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

export function Conclusion({ view }: { view: Schemas["ChecksView"] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const [text, setText] = useState(view.conclusion);
  useEffect(() => setText(view.conclusion), [view.conclusion]);
  return (
    <section className="border-t rule pt-3">
      <h3 className="text-base">What you conclude</h3>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          void act.run(() => conclude(id, view.conclusion, text));
        }}
      >
        <label>
          <span className="sr-only">What you conclude, in a sentence or two</span>
          <textarea
            className="entry"
            rows={3}
            placeholder="Heron is 20 % stronger than Wren."
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <button
          type="submit"
          className="press press-plain mt-1"
          disabled={act.busy || text === view.conclusion}
        >
          Check it against the numbers
        </button>
      </form>
      <details className="mt-1 text-sm">
        <summary className="link inline-flex min-h-6 items-center">What can be checked</summary>
        {view.checkable.map((words) => (
          <p key={words}>{words}</p>
        ))}
      </details>
      <Trouble problem={act.problem} />
      <Claims claims={view.claims} />
    </section>
  );
}
