// Labels and the seed: what is written on both halves, and the shuffle behind it.
import { Trouble } from "../ui/Trouble";
import { More, usePlanning, Words } from "./planning";
import { shuffleAgain } from "./queries";

const NEUTRAL = "{no}";

export function Labels() {
  const { id, plan, settled, edit, act } = usePlanning();
  const { trial } = plan;
  const again = () => void act.run(() => shuffleAgain(id));
  return (
    <More
      title={
        <>
          Labels
          {plan.labels.length > 0 && (
            <>
              {" "}
              like <span className="mono">{plan.labels.slice(0, 3).join(" ")}</span>
            </>
          )}
          , shuffled with seed <span className="mono">{trial.seed}</span>
        </>
      }
    >
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <div>
          <Words name="label_scheme" label="What a label is made of" />
          <p className="pencil mt-1 text-sm">
            {Object.entries(plan.label_parts).map(([part, words], index) => (
              <span key={part}>
                {index > 0 && ", "}
                <span className="mono">{`{${part}}`}</span> {words}
              </span>
            ))}
            . Until something is glued, another scheme relabels every piece.
          </p>
          <label className="mt-3 flex min-h-[44px] items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-layout"
              checked={trial.blind === "1"}
              onChange={(event) =>
                void act.run(() => edit("blind")(trial.blind, event.target.checked ? "1" : "0"))
              }
            />
            Blind: hide the sets at the bench until every piece is broken
          </label>
          {trial.blind === "1" && trial.label_scheme !== NEUTRAL && (
            <button
              type="button"
              className="link"
              onClick={() => void act.run(() => edit("label_scheme")(trial.label_scheme, NEUTRAL))}
            >
              Use labels that say nothing of the set: 01, 02, 03
            </button>
          )}
        </div>
        <div>
          <Words name="seed" label="Seed: the same one gives the same plan" disabled={settled} />
          {!settled && (
            <button type="button" className="link mt-1" onClick={again}>
              shuffle again
            </button>
          )}
          <p className="mt-1 text-sm">
            Pencil or ink that glue and water do not take, on both halves, so that it reads from either end.
          </p>
        </div>
      </div>
      <Trouble problem={act.problem} />
    </More>
  );
}
