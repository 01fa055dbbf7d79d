// The question, the guess, and what kind of answer is wanted.

import { Choice } from "../ui/Choice";
import { dayTime } from "../ui/format";
import { asOptions } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { Chosen, usePlanning, Words } from "./planning";

export function Question() {
  const { plan, edit, act } = usePlanning();
  const { trial, broken } = plan;
  return (
    <section id="question" className="scroll-mt-14">
      <Words name="question" label="The question" big bare wraps />
      <div className="mt-3 grid gap-4">
        <div>
          <Words
            name="guess"
            label={
              broken
                ? "Your guess (a piece is broken: it stays as it was)"
                : "Your guess, before anything is broken"
            }
            bare
            wraps
            disabled={broken > 0}
            placeholder="Which first, which last? A number if you dare"
          />
          {trial.guess_utc && <p className="pencil text-sm">written {dayTime(trial.guess_utc)}</p>}
        </div>
        <div className="grid gap-4 md:grid-cols-[auto_1fr]">
          <Choice
            label="What is judged"
            value={trial.judged}
            options={asOptions(plan.choices.judged)}
            onChange={(now) => void act.run(() => edit("judged")(trial.judged, now))}
          />
          <Chosen name="answer" label="The answer wanted" options={asOptions(plan.choices.answer)} />
        </div>
      </div>
      <Trouble problem={act.problem} />
    </section>
  );
}
