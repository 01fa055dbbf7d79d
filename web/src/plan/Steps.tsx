// Work on the parts besides the joint: what must be cut before glue-up, and what comes after it.

import { useState } from "react";
import { Choice } from "../ui/Choice";
import { asOptions } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { usePlanning } from "./planning";
import { addStep, removeStep, tickStep } from "./queries";

export function Steps() {
  const { id, plan, act } = usePlanning();
  const [words, setWords] = useState("");
  const [turn, setTurn] = useState<"before" | "after">("before");
  return (
    <>
      {plan.steps.length === 0 && (
        <p className="pencil">
          A hole for the pin, a groove, an alignment mark: what cannot be cut any more once it is glued.
        </p>
      )}
      <ul>
        {plan.steps.map((step) => (
          <li key={step.id} className="flex min-h-[44px] items-center gap-3 border-b rule">
            <label className="flex grow items-center gap-3">
              <input
                type="checkbox"
                className="size-6 accent-layout"
                checked={step.done_utc !== null}
                onChange={() => void act.run(() => tickStep(id, step.id, step.done_utc === null))}
              />
              <span>
                {step.words} <span className="pencil text-sm">{step.turn} glue-up</span>
              </span>
            </label>
            <button
              type="button"
              className="link"
              onClick={() => void act.run(() => removeStep(id, step.id))}
            >
              remove
            </button>
          </li>
        ))}
      </ul>
      <form
        className="mt-3 grid items-end gap-3 md:grid-cols-[1fr_auto_auto]"
        onSubmit={async (event) => {
          event.preventDefault();
          if (await act.run(() => addStep(id, words, turn))) setWords((now) => (now === words ? "" : now));
        }}
      >
        <label>
          <span className="label">Add a step that every piece must have had</span>
          <input className="entry" value={words} onChange={(event) => setWords(event.target.value)} />
        </label>
        <Choice label="When" value={turn} options={asOptions(plan.choices.turn)} onChange={setTurn} />
        <button type="submit" className="press" disabled={act.busy || !words.trim()}>
          Add the step
        </button>
      </form>
      <Trouble problem={act.problem} />
    </>
  );
}
