// What is varied, its values, the baseline, and how many pieces of each.
import { useState } from "react";
import { useAct, useShop } from "../app/queries";
import { useTrial } from "../app/TrialShell";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import type { Edit, Plan } from "./PlanPage";
import { addSet, removeSet } from "./queries";

interface Props {
  plan: Plan;
  edit: Edit;
  settled: boolean;
}

export function Varied({ plan, edit, settled }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const joined = plan.treatments.filter((set) => !set.solid);
  const solid = plan.treatments.find((set) => set.solid);
  const each = plan.treatments[0]?.pieces ?? 5;
  const quantity = (name: string) => plan.quantities.find((one) => one.name === name);
  const margin = quantity("margin_pct");
  const scatter = quantity("cv_pct");
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">What you vary</h2>
      <div className="mt-2 grid gap-3 md:grid-cols-2">
        <Pick
          label="Between the sets"
          value={plan.trial.factor}
          disabled={settled}
          options={Object.entries(plan.factors)}
          onChange={(now) => void act.run(() => edit("factor")(plan.trial.factor, now))}
        />
        {plan.trial.factor === "own" && (
          <Field
            label="What it is called"
            value={plan.trial.factor_name}
            onSave={edit("factor_name")}
            draftKey={`${id} factor_name`}
          />
        )}
      </div>
      <ul className="mt-3 flex flex-wrap gap-2" aria-label="Values">
        {joined.map((set) => (
          <li key={set.id} className="flex min-h-[44px] items-center gap-3 border border-graphite px-3">
            <span>
              <span className="font-semibold">{set.name}</span>{" "}
              <span className="mono pencil text-sm">{set.code}-…</span>
            </span>
            {!settled && (
              <button
                type="button"
                className="link min-w-6"
                aria-label={`Remove ${set.name}`}
                onClick={() => void act.run(() => removeSet(id, set.id))}
              >
                remove
              </button>
            )}
          </li>
        ))}
        <li className="flex min-h-[44px] items-center">
          <button
            type="button"
            aria-pressed={solid !== undefined}
            disabled={settled}
            className={`press ${solid ? "press-on" : "border-dashed"}`}
            onClick={() =>
              void act.run(() =>
                solid ? removeSet(id, solid.id) : addSet(id, { pieces: each, solid: true }),
              )
            }
          >
            {solid ? "Baseline: solid wood, no joint" : "add a baseline: solid wood, no joint"}
          </button>
        </li>
      </ul>
      {!settled && <AddValue plan={plan} pieces={each} />}
      <Trouble problem={act.problem} />
      <div className="mt-4 grid grid-cols-3 gap-4">
        <Field
          label="Pieces of each set"
          big
          disabled={settled || plan.treatments.length === 0}
          value={String(each)}
          onSave={edit("pieces")}
          draftKey={`${id} pieces`}
        />
        {margin && (
          <Field
            label="Difference that matters"
            big
            value={margin.typed}
            onSave={edit("margin_pct")}
            draftKey={`${id} margin`}
          />
        )}
        {scatter && (
          <Field
            label="Scatter you expect"
            big
            value={scatter.typed}
            onSave={edit("cv_pct")}
            draftKey={`${id} cv`}
          />
        )}
      </div>
    </section>
  );
}

function AddValue({ plan, pieces }: { plan: Plan; pieces: number }) {
  const { id } = useTrial();
  const act = useAct(id);
  const shop = useShop().data;
  const [value, setValue] = useState("");
  const [family, setFamily] = useState("");
  const isGlue = plan.trial.factor === "glue";
  const known = shop?.glues.some((glue) => glue.name.toLowerCase() === value.trim().toLowerCase()) ?? false;
  const unit = plan.quantities.find((one) => one.name === plan.factor_quantity)?.default_unit;
  const add = async (text: string) => {
    if (await act.run(() => addSet(id, { value: text, pieces, family: known ? "" : family })))
      setValue((now) => (now === text ? "" : now));
  };
  const choose = (text: string) => {
    setValue(text);
    void add(text);
  };
  return (
    <form
      className="mt-3 grid items-end gap-3 md:grid-cols-[1fr_1fr_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        void add(value);
      }}
    >
      <label className="block">
        <span className="label">Add a value{unit ? ` (${unit}, or write the unit)` : ""}</span>
        <input
          className="entry"
          value={value}
          list="shelf"
          onChange={(event) => setValue(event.target.value)}
        />
      </label>
      {isGlue && (
        <datalist id="shelf">
          {shop?.glues.map((glue) => (
            <option key={glue.id} value={glue.name} />
          ))}
        </datalist>
      )}
      {isGlue && value && !known ? (
        <Pick
          label="Its family (new on the shelf)"
          value={family}
          options={[["", "choose …"], ...(shop?.families ?? []).map((name) => [name, name] as const)]}
          onChange={setFamily}
        />
      ) : (
        <span className="hidden md:block" />
      )}
      <button type="submit" className="press" disabled={act.busy}>
        Add
      </button>
      <div className="md:col-span-3">
        <Trouble problem={act.problem} onChoose={choose} />
      </div>
    </form>
  );
}
