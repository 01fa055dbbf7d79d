// How many of each: for the difference that matters, at the scatter expected; spares, pilots, pairs.
import { digits } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { Chosen, Quantity, usePlanning, Words } from "./planning";

const PAIRS: Record<string, string> = {
  halves:
    "Each bar is glued in one, double as wide, and ripped into two pieces afterwards: they share wood, glue and clamp, and differ only in what comes later. Baselines stand alone.",
  neighbours: "The two pieces of a pair lie beside each other on the board. Baselines stand alone.",
};

export function HowMany() {
  const { plan, settled, edit, act } = usePlanning();
  const own = plan.own_scatter;
  const scatter = plan.quantities.find((one) => one.name === "cv_pct");
  const needed = plan.consequences.n_for_margin;
  const canPair = plan.factors.some((one) => one.levels.length === 2);
  return (
    <>
      <div className="mt-2 grid grid-cols-3 items-start gap-4">
        <div>
          <Words name="pieces_each" label="Pieces of each set" big disabled={settled} />
          {!settled && needed != null && needed <= 1000 && needed !== plan.trial.pieces_each && (
            <button
              type="button"
              className="link text-sm"
              onClick={() =>
                void act.run(() => edit("pieces_each")(String(plan.trial.pieces_each), String(needed)))
              }
            >
              take {needed}, for that difference
            </button>
          )}
        </div>
        <Quantity name="margin_pct" label="Difference that matters" big />
        <div>
          <Quantity name="cv_pct" label="Scatter you expect" big />
          {own && scatter && (
            <button
              type="button"
              className="link text-left text-sm"
              onClick={() => void act.run(() => edit("cv_pct")(scatter.typed, `${digits(own.cv_pct, 2)} %`))}
            >
              {digits(own.cv_pct, 2)} % in {own.pieces} of your own pieces ({own.trials}{" "}
              {own.trials === 1 ? "trial" : "trials"})
            </button>
          )}
        </div>
      </div>
      <div className="mt-4 grid grid-cols-3 items-start gap-4">
        <Words name="spares" label="Spares (10 %, or a number)" placeholder="none" />
        <Words name="pilot" label="Pilot pieces, never in the results" disabled={settled} />
        {(canPair || plan.trial.matched) && (
          <Chosen
            name="matched"
            label="Matched pairs"
            disabled={settled}
            options={[
              ["", "no pairs"],
              ["halves", "two halves of one bar"],
              ["neighbours", "neighbours on a board"],
            ]}
          />
        )}
      </div>
      {plan.trial.matched !== "" && <p className="mt-2 text-sm">{PAIRS[plan.trial.matched]}</p>}
      <Trouble problem={act.problem} />
    </>
  );
}
