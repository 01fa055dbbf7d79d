// So what, while planning: what the trial will tell apart, what it takes, what moves together.
import type { Schemas } from "../api/client";
import { PowerCurve } from "../charts/PowerCurve";
import { digits, plainPercent, useUnits } from "../ui/format";
import type { Plan } from "./PlanPage";

export function PlanSoWhat({ plan }: { plan: Plan }) {
  const { consequences } = plan;
  const margin = plan.quantities.find((one) => one.name === "margin_pct")?.si ?? 10;
  const scatter = plan.quantities.find((one) => one.name === "cv_pct")?.si ?? 15;
  const smallest = plan.treatments.length ? Math.min(...plan.treatments.map((set) => set.pieces)) : null;
  const settled = plan.trial.frozen_utc !== null;
  return (
    <>
      {consequences.detectable_pct != null && (
        <p>
          It will tell two sets apart when they differ by{" "}
          <strong>{digits(consequences.detectable_pct, 2)} %</strong> or more (scatter {plainPercent(scatter)}
          , 8 times in 10).
          {consequences.n_for_margin != null && (
            <>
              {" "}
              For {plainPercent(margin)} it takes <strong>{consequences.n_for_margin}</strong> of each.
            </>
          )}
        </p>
      )}
      {consequences.curve.length > 0 && (
        <PowerCurve
          curve={consequences.curve}
          n={smallest}
          detectable={consequences.detectable_pct}
          margin={margin}
        />
      )}
      <Takes plan={plan} />
      {!settled && plan.problems.length > 0 && (
        <section>
          <h3 className="text-base text-iron">Missing</h3>
          <ul className="grid gap-1.5">
            {plan.problems.map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
        </section>
      )}
      {consequences.confounds.length > 0 && (
        <section>
          <h3 className="text-base text-iron">Moves together</h3>
          {consequences.confounds.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </section>
      )}
      {consequences.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      <p className="pencil border-t rule pt-3 text-sm">
        Sawing small parts: keep the stop block clear and let the blade stop before you lift. Shop tests
        compare joints; they approve none.
      </p>
    </>
  );
}

function Takes({ plan }: { plan: Plan }) {
  const { consequences } = plan;
  const { show, area, force } = useUnits();
  const forces = consequences.forces;
  const same = forces.every((one) => one.force_n === forces[0]?.force_n);
  const row = (words: string, value: React.ReactNode) => (
    <div key={words} className="grid grid-cols-[7.4rem_1fr] gap-2 border-b rule py-1">
      <dt className="pencil">{words}</dt>
      <dd>{value}</dd>
    </div>
  );
  const shown: Schemas["LineForce"][] = same ? forces.slice(0, 1) : forces;
  return (
    <dl className="border-t rule">
      {row("Pieces", <strong>{consequences.pieces}</strong>)}
      {row("Places on boards", consequences.places)}
      {forces[0]?.area_mm2 != null && row("Glued area, each", show(forces[0].area_mm2, area))}
      {shown.map((one) =>
        one.force_n == null
          ? null
          : row(same ? "Clamp force, each" : `Force, ${one.name}`, show(one.force_n, force)),
      )}
    </dl>
  );
}
