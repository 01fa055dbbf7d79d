// So what, while planning: what the trial will tell apart, whether the rig will do, what it takes, what moves together.
import { LoadBands } from "../charts/LoadBands";
import { PowerCurve } from "../charts/PowerCurve";
import { useUnits } from "../shop/useUnits";
import { convert, digits, duration, money, plainPercent, plainSize } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { type Plan, usePlanning } from "./planning";

export function PlanSoWhat() {
  const { plan, settled } = usePlanning();
  const { consequences } = plan;
  const open = !settled && plan.problems.length > 0;
  return (
    <>
      {open && (
        <section>
          <h3 className="text-base text-iron">Missing</h3>
          <ul className="grid gap-1.5">
            {plan.problems.map((problem) => (
              <li key={problem}>{problem}</li>
            ))}
          </ul>
        </section>
      )}
      <Power />
      <Reach />
      <Takes />
      {consequences.confounds.length > 0 && (
        <section>
          <h3 className="text-base text-iron">Moves together</h3>
          {consequences.confounds.map((words) => (
            <p key={words} className="mt-1">
              {words}
            </p>
          ))}
        </section>
      )}
      {consequences.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      {consequences.cautions.length > 0 && (
        <section className="border-t border-iron pt-2">
          <h3 className="text-base">Take care</h3>
          {consequences.cautions.map((one) => (
            <p key={one.words} className="mt-1">
              <a href={`#caution-${one.where}`} className="link">
                {one.title}
              </a>
            </p>
          ))}
        </section>
      )}
      <p className="pencil border-t rule pt-3 text-sm">
        Shop tests compare joints; they approve none. Makers’ instructions, local codes and licensed practice
        come first.
      </p>
    </>
  );
}

function Power() {
  const { plan } = usePlanning();
  const { consequences } = plan;
  const margin = plan.quantities.find((one) => one.name === "margin_pct")?.si ?? 10;
  const scatter = plan.quantities.find((one) => one.name === "cv_pct")?.si ?? 15;
  const sets = plan.treatments.filter((set) => !set.left_out);
  const smallest = sets.length ? Math.min(...sets.map((set) => set.pieces)) : null;
  if (plan.trial.answer === "pass_fail")
    return <p>A witness trial counts passes: torn wood is a pass, a bare glue line is not.</p>;
  if (consequences.detectable_pct == null) return null;
  return (
    <section>
      <p>
        It will tell two sets apart when they differ by{" "}
        <strong>{digits(consequences.detectable_pct, 2)} %</strong> or more (scatter {plainPercent(scatter)},
        8 times in 10
        {consequences.pairs > 1 ? `, for each of ${consequences.pairs} pairs` : ""}).
        {consequences.n_for_margin != null && (
          <>
            {" "}
            For {plainPercent(margin)} it takes <strong>{consequences.n_for_margin}</strong> of each.
          </>
        )}
      </p>
      {consequences.curve.length > 0 && (
        <PowerCurve
          curve={consequences.curve}
          n={smallest}
          detectable={consequences.detectable_pct}
          margin={margin}
        />
      )}
    </section>
  );
}

function Reach() {
  const { plan, settled, edit, act } = usePlanning();
  const { force, length } = useUnits();
  const { bands, reach } = plan.consequences;
  if (bands.length === 0) return null;
  const named = (kind: string) =>
    bands.filter((_, index) => reach?.reaches[index] === kind).map((band) => band.name);
  const strong = named("out_pulls");
  const weak = named("too_weak");
  const own = bands.find((band) => band.pieces > 0);
  const change = reach?.change;
  const take = async () => {
    if (!change) return;
    const typed = `${plainSize(convert(change.value, length))} ${length.symbol}`;
    for (const name of change.names) {
      const was = plan.quantities.find((one) => one.name === name)?.typed ?? "";
      if (!(await act.run(() => edit(name)(was, typed)))) return;
    }
  };
  return (
    <section>
      <h3 className="text-base">{reach ? "Will the rig do?" : "Expected loads"}</h3>
      <LoadBands
        bands={bands}
        reaches={reach?.reaches ?? []}
        capacity_n={reach?.capacity_n ?? null}
        safe_n={reach?.safe_n ?? null}
        unit={force}
      />
      {strong.length > 0 && (
        <p>
          <strong className="text-iron">{listed(strong)} will out-pull your rig.</strong>
        </p>
      )}
      {weak.length > 0 && (
        <p>
          <strong className="text-iron">
            {listed(weak)} {weak.length > 1 ? "are" : "is"} too weak to read
          </strong>{" "}
          in steps of {digits(convert(reach?.resolution_n ?? 0, force), 2)} {force.symbol}.
        </p>
      )}
      {change && (
        <p className="mt-1">
          {change.words[0]?.toUpperCase()}
          {change.words.slice(1)} of {plainSize(convert(change.value, length))} {length.symbol} brings the
          strongest set to half of what it pulls.{" "}
          {!settled && (
            <button type="button" className="link" onClick={() => void take()}>
              Use {plainSize(convert(change.value, length))} {length.symbol}
            </button>
          )}
        </p>
      )}
      {!reach && <p className="pencil text-sm">Choose the rig, and they are held against its limits.</p>}
      <p className="pencil text-sm">
        {own ? `From ${own.words}.` : "A rough guess from wood and glue family, a factor of 1.5 either way."}
      </p>
      <Trouble problem={act.problem} />
    </section>
  );
}

const listed = (names: string[]) =>
  names.length > 3 ? `${names.slice(0, 2).join("; ")} and ${names.length - 2} more` : names.join("; ");

function Takes() {
  const { plan } = usePlanning();
  const { consequences } = plan;
  const { show, area, force } = useUnits();
  const { forces, glues, days, yields } = consequences;
  const same = forces.every((one) => one.force_n === forces[0]?.force_n);
  const short = yields.reduce((sum, one) => sum + one.short, 0);
  const masses = glues.filter((one) => one.mass_g != null);
  const row = (words: string, value: React.ReactNode) => (
    <div key={words} className="grid grid-cols-[6.4rem_1fr] gap-2 border-b rule py-1">
      <dt className="pencil">{words}</dt>
      <dd>{value}</dd>
    </div>
  );
  return (
    <dl className="border-t rule">
      {row(
        "Pieces",
        <>
          <strong>{consequences.pieces}</strong>
          {consequences.spares > 0 && `, ${consequences.spares} spare`}
          {consequences.pilot > 0 && `, ${consequences.pilot} pilot`}
        </>,
      )}
      {row(
        "Wood",
        `${plan.boards.length} boards, ${consequences.places} places${short > 0 ? `, no room for ${short} pieces` : ""}`,
      )}
      {forces[0]?.area_mm2 != null &&
        row("Glued area", `${show(forces[0].area_mm2, area)}${same ? " each" : " and others"}`)}
      {same && forces[0]?.force_n != null && row("Clamp force", `${show(forces[0].force_n, force)} each`)}
      {masses.length > 0 &&
        row(
          "Glue",
          masses
            .slice(0, 4)
            .map((one) => `${one.name} ${digits(one.mass_g ?? 0, 2)}\u00a0g`)
            .join(", ") + (masses.length > 4 ? ` and ${masses.length - 4} more` : ""),
        )}
      {days && row("Days", <Days days={days} />)}
      {glues.length > 0 && row("Costs", costs(plan))}
    </dl>
  );
}

/** What glue and wood cost, and what is missing to say it. */
function costs({ consequences: { glues, glue_cost, wood_cost, cost_each }, boards }: Plan) {
  const missing = [...new Set(glues.flatMap((one) => one.missing))];
  const parts = [
    glue_cost != null ? `glue ${money(glue_cost)}` : `glue needs ${missing.join(", ")}`,
    wood_cost != null ? `wood ${money(wood_cost)}` : boards.length > 0 ? "wood needs its price" : "",
  ].filter(Boolean);
  return parts.join(", ") + (cost_each != null ? `; ${money(cost_each)} a piece` : "");
}

type DaysView = NonNullable<ReturnType<typeof usePlanning>["plan"]["consequences"]["days"]>;

function Days({ days }: { days: DaysView }) {
  return (
    <span title={days.words}>
      at least {duration(days.clamping_s + days.curing_s)}
      {days.rounds > 1 ? `, ${days.rounds} rounds in clamps` : ""}
    </span>
  );
}
