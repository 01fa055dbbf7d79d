// What is varied: one to three things, their values, and the baselines.
import { useState } from "react";
import { useShop } from "../shop/queries";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { AddValue } from "./AddValue";
import { Cautions, Chosen, type Factor, usePlanning } from "./planning";
import {
  addControl,
  addFactor,
  editFactor,
  editSet,
  removeControl,
  removeFactor,
  removeLevel,
} from "./queries";

const MOST = 3;

export function Varied() {
  const { id, plan, settled, act } = usePlanning();
  const kinds = Object.entries(plan.kinds);
  const free = kinds.filter(([kind]) => kind === "own" || plan.factors.every((one) => one.kind !== kind));
  return (
    <>
      {plan.factors.map((factor, index) => (
        <FactorRow key={factor.id} factor={factor} earlier={plan.factors.slice(0, index)} kinds={kinds} />
      ))}
      {!settled && plan.factors.length < MOST && (
        <div className="mt-3 max-w-72">
          <Pick
            label="Vary one more thing"
            hideLabel={plan.factors.length > 0}
            value=""
            options={[["", plan.factors.length ? "vary one more thing …" : "choose …"], ...free]}
            onChange={(kind) => void act.run(() => addFactor(id, kind))}
          />
        </div>
      )}
      <Trouble problem={act.problem} />
      <Baselines />
    </>
  );
}

function FactorRow({
  factor,
  earlier,
  kinds,
}: {
  factor: Factor;
  earlier: Factor[];
  kinds: [string, string][];
}) {
  const { id, plan, settled, act } = usePlanning();
  const shop = useShop().data;
  const save = (field: string, was: string, now: string) =>
    act.run(() => editFactor(id, factor.id, field, was, now));
  const familyOf = (name: string) =>
    factor.kind === "glue" ? shop?.glues.find((glue) => glue.name === name)?.family : undefined;
  const cautions = new Set(
    factor.kind === "glue"
      ? factor.levels.flatMap((one) => shop?.glues.find((glue) => glue.name === one.name)?.caution ?? [])
      : [],
  );
  return (
    <div className="mt-3 border-l-4 border-rule pl-3">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="w-72 max-w-full">
          <Pick
            label={earlier.length ? "and" : "Between the sets"}
            value={factor.kind}
            disabled={settled}
            options={kinds}
            onChange={(now) => void save("kind", factor.kind, now)}
          />
        </div>
        {factor.kind === "own" && (
          <div className="w-56">
            <Field
              label="What it is called"
              value={factor.name}
              disabled={settled}
              onSave={(was, now) =>
                editFactor(id, factor.id, "name", was, now).then(() => act.run(async () => undefined))
              }
              draftKey={`${id} factor ${factor.id}`}
            />
          </div>
        )}
        {!settled && plan.factors.length > 1 && (
          <button
            type="button"
            className="link min-h-[44px]"
            onClick={() => void act.run(() => removeFactor(id, factor.id))}
          >
            hold it constant
          </button>
        )}
      </div>
      <ul
        className="mt-2 flex flex-wrap gap-2"
        aria-label={earlier.length ? `Values of ${factor.words}` : "Values"}
      >
        {factor.levels.map((level) => (
          <li key={level.id} className="flex min-h-[44px] items-center gap-3 border border-graphite px-3">
            <span>
              <span className="font-semibold">{level.name}</span>{" "}
              <span className="pencil text-sm">{familyOf(level.name)}</span>
            </span>
            {!settled && (
              <button
                type="button"
                className="link min-w-6 text-sm"
                aria-label={`Remove ${level.name}`}
                onClick={() => void act.run(() => removeLevel(id, level.id))}
              >
                remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {!settled && <AddValue factor={factor} />}
      {earlier.length > 0 && earlier.some((one) => one.levels.length > 0) && (
        <Scope factor={factor} earlier={earlier} />
      )}
      {factor.kind === "clamp_pressure" && <Cautions at="pressure" />}
      {[...cautions].map((words) => (
        <p key={words} className="mt-1 text-sm">
          {words}
        </p>
      ))}
      <Trouble problem={act.problem} />
    </div>
  );
}

/** Nested extras: a thing that goes with some values of an earlier one only. */
function Scope({ factor, earlier }: { factor: Factor; earlier: Factor[] }) {
  const { id, settled, act } = usePlanning();
  const [open, setOpen] = useState(factor.only_with.length > 0);
  const was = factor.only_with.join(" ");
  const flip = (level: number) => {
    const now = factor.only_with.includes(level)
      ? factor.only_with.filter((one) => one !== level)
      : [...factor.only_with, level];
    void act.run(() => editFactor(id, factor.id, "only_with", was, now.join(" ")));
  };
  if (!open)
    return (
      <button type="button" className="link mt-1 text-sm" disabled={settled} onClick={() => setOpen(true)}>
        only with some of the values above …
      </button>
    );
  return (
    <fieldset className="mt-2" disabled={settled}>
      <legend className="label">
        goes only with {factor.only_with.length ? "" : "(all, while none is chosen)"}
      </legend>
      <div className="flex flex-wrap gap-x-4">
        {earlier
          .flatMap((one) => one.levels)
          .map((level) => (
            <label key={level.id} className="flex min-h-[36px] items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-layout"
                checked={factor.only_with.includes(level.id)}
                onChange={() => flip(level.id)}
              />
              {level.name}
            </label>
          ))}
      </div>
      <Trouble problem={act.problem} />
    </fieldset>
  );
}

function Baselines() {
  const { id, plan, settled, act } = usePlanning();
  const there = (kind: string) => plan.treatments.find((set) => set.kind === kind);
  return (
    <div className="mt-4">
      <p className="label">Baselines, broken among the others</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {plan.choices.control.map(({ key: kind, words }, turn) => {
          const set = there(kind);
          return (
            <button
              key={kind}
              type="button"
              aria-pressed={set !== undefined}
              disabled={settled}
              className={`press ${set ? "press-on" : "border-dashed"}`}
              onClick={() => void act.run(() => (set ? removeControl(id, set.id) : addControl(id, kind)))}
            >
              {set ? `Baseline: ${words}` : turn === 0 ? `add a baseline: ${words}` : words}
            </button>
          );
        })}
      </div>
      {plan.references.length > 0 && (
        <div className="mt-3 max-w-[34rem]">
          <Chosen
            name="reference_id"
            label="An earlier set to stand beside the results (other boards, other days: it is not tested against)"
            options={[
              ["", "none"],
              ...plan.references.map(
                (one) => [String(one.id), `${one.words}, ${one.pieces} pieces, ${one.broken_on}`] as const,
              ),
            ]}
          />
        </div>
      )}
      {plan.treatments
        .filter((set) => set.kind === "untreated" || set.kind === "standard")
        .map((set) => (
          <div key={set.id} className="mt-2">
            <Field
              label={
                set.kind === "standard"
                  ? "The standard joint: how it is made, the same in every trial"
                  : "The untreated version: what is left away"
              }
              bare
              value={set.recipe}
              placeholder="not written down yet"
              disabled={settled}
              onSave={(was, now) =>
                editSet(id, set.id, "recipe", was, now).then(() => act.run(async () => undefined))
              }
              draftKey={`${id} recipe ${set.id}`}
            />
          </div>
        ))}
      <Trouble problem={act.problem} />
    </div>
  );
}
