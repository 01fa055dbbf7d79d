// Labels and the seed: what is written on both halves, and the shuffle behind it.
import { Trouble } from "../ui/Trouble";
import { More, usePlanning, Words } from "./planning";
import { shuffleAgain } from "./queries";

export function Labels() {
  const { id, plan, settled, act } = usePlanning();
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
