// How many of each: for the difference that matters, at the scatter expected; spares, pilots, pairs.

import { digits } from "../ui/format";
import { asOptions } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { Chosen, Quantity, usePlanning, Words } from "./planning";

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
      <div className="mt-4 grid grid-cols-2 items-start gap-4 md:grid-cols-4">
        <Words name="spares" label="Spares (10 %, or a number)" placeholder="none" />
        <Words name="pilot" label="Pilot pieces, never in the results" disabled={settled} />
        <Quantity name="must_carry_n" label="Load that it has to carry" />
        {(canPair || plan.trial.matched) && (
          <Chosen
            name="matched"
            label="Matched pairs"
            disabled={settled}
            options={asOptions(plan.choices.matched)}
          />
        )}
      </div>
      {plan.trial.answer === "compare" && (
        <label className="mt-2 flex min-h-[44px] items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-layout"
            checked={plan.trial.looks === "1"}
            disabled={settled}
            onChange={(event) => {
              const now = event.target.checked ? "1" : "0";
              void act.run(() => edit("looks")(plan.trial.looks, now));
            }}
          />
          <span>
            Look after every complete board whether I may stop
            <span className="pencil block text-sm">{plan.looks_meaning}</span>
          </span>
        </label>
      )}
      {plan.matched_meaning && <p className="mt-2 text-sm">{plan.matched_meaning}</p>}
      <Trouble problem={act.problem} />
    </>
  );
}
