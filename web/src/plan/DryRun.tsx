// The dry run: the whole trial many times on paper, with the effects that the person guesses.
import { useState } from "react";
import { ProblemError, type Schemas } from "../api/client";
import { isFaulty, Trouble } from "../ui/Trouble";
import { More, usePlanning } from "./planning";
import { dryRun } from "./queries";

const SETS_GUESSED = 12;
const SHOWN = 8;

export function DryRun() {
  const { id, plan } = usePlanning();
  const sets = plan.treatments.filter((set) => !set.left_out);
  const [guesses, setGuesses] = useState<Record<string, string>>({});
  const [held, setHeld] = useState("");
  const [step, setStep] = useState<Schemas["Rehearsal"] | null>(null);
  const [running, setRunning] = useState(false);
  const [problem, setProblem] = useState<Schemas["Problem"] | null>(null);
  if (sets.length < 2 || plan.problems.length > 0) return null;
  const bySet = sets.length <= SETS_GUESSED;
  const asked = [
    ...(bySet ? [] : plan.factors.flatMap((factor) => factor.levels)).map((level) => ({
      field: `guess-value-${level.id}`,
      name: level.name,
      of: { level_id: level.id },
    })),
    ...(bySet ? sets : sets.filter((set) => set.kind !== "made")).map((set) => ({
      field: `guess-${set.id}`,
      name: set.name,
      of: { treatment_id: set.id },
    })),
  ];
  const run = async () => {
    setProblem(null);
    setStep(null);
    setRunning(true);
    const typed = asked.map((one) => ({ ...one.of, percent: guesses[one.field] ?? "" }));
    try {
      await dryRun(id, typed, held, setStep);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setProblem(error.problem);
    } finally {
      setRunning(false);
    }
  };
  return (
    <More title="A dry run: break it many times on paper first">
      <p>
        {bySet
          ? "How strong do you think each set is, in percent of any of them? Empty means 100 %."
          : "How strong do you think each value makes a set, in percent of any of them? A set’s values multiply; empty means 100 %."}
      </p>
      <form
        className="mt-2 grid grid-cols-2 items-end gap-x-4 gap-y-2 md:grid-cols-4"
        onSubmit={(event) => {
          event.preventDefault();
          void run();
        }}
      >
        {asked.map((one) => (
          <label key={one.field}>
            <span className="label block truncate">{one.name}</span>
            <input
              className="entry"
              aria-label={`Guess: ${one.name}`}
              placeholder="100 %"
              value={guesses[one.field] ?? ""}
              aria-invalid={isFaulty(problem, one.field)}
              onChange={(event) => setGuesses({ ...guesses, [one.field]: event.target.value })}
            />
          </label>
        ))}
        <label>
          <span className="label block">Pieces that will only hold</span>
          <input
            className="entry"
            placeholder="0 %"
            value={held}
            aria-invalid={isFaulty(problem, "held")}
            onChange={(event) => setHeld(event.target.value)}
          />
        </label>
        <button type="submit" className="press" disabled={running}>
          {running ? "Breaking …" : "Run it dry"}
        </button>
      </form>
      {running && (
        <progress
          className="mt-3 h-3 w-full accent-layout"
          aria-label="Dry runs done"
          value={step?.done ?? 0}
          max={step?.of ?? 1000}
        />
      )}
      <Trouble problem={problem} />
      {step?.outlook && <Outlook outlook={step.outlook} />}
    </More>
  );
}

const percent = (share: number) => `${(100 * share).toFixed(share > 0 && share < 0.1 ? 1 : 0)} %`;

function Outlook({ outlook }: { outlook: Schemas["Outlook"] }) {
  return (
    <div className="mt-3" aria-live="polite">
      <p>
        Of {outlook.times} such trials, a comparison of two sets comes out right in{" "}
        <strong>{percent(outlook.right)}</strong>, says “cannot tell yet” in{" "}
        <strong>{percent(outlook.cannot_tell)}</strong>, and is wrong in{" "}
        <strong>{percent(outlook.wrong)}</strong>.
        {outlook.best_found != null && (
          <> The strongest set also has the highest average in {percent(outlook.best_found)}.</>
        )}
      </p>
      <table className="plain dense mt-2">
        <thead>
          <tr>
            <th>hardest to tell</th>
            <th>differ by</th>
            <th>right</th>
            <th>cannot tell</th>
            <th>wrong</th>
          </tr>
        </thead>
        <tbody>
          {outlook.pairs.slice(0, SHOWN).map((pair) => (
            <tr key={`${pair.a} ${pair.b}`}>
              <td className="!whitespace-normal">
                {pair.a} and {pair.b}
              </td>
              <td>{percent(Math.abs(pair.true_ratio - 1))}</td>
              <td>{percent(pair.right)}</td>
              <td>{percent(pair.cannot_tell)}</td>
              <td>{percent(pair.wrong)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pencil mt-1 text-sm">
        {outlook.within_boards
          ? "Compared within boards, boards differing by half the scatter; "
          : "Compared piece by piece; "}
        verdicts as Compare gives them. Seed {outlook.seed}.
      </p>
    </div>
  );
}
