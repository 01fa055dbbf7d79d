// Plan: the question, what is varied, the piece, what is held constant; what it leads to stands on the right.
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { keys, useAct } from "../app/queries";
import { Station, useTrial } from "../app/TrialShell";
import { FixtureDrawing } from "../drawings/FixtureDrawing";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { Boards } from "./Boards";
import { HeldConstant } from "./HeldConstant";
import { PlanSoWhat } from "./PlanSoWhat";
import { editPlan, reopen, settle, usePlan } from "./queries";
import { Varied } from "./Varied";

export type Plan = Schemas["PlanView"];

/** Saves one field of the plan and hears what follows from it. */
export type Edit = (field: string) => (was: string, now: string) => Promise<unknown>;

export function PlanPage() {
  const { id } = useTrial();
  const plan = usePlan(id);
  const client = useQueryClient();
  const act = useAct(id);
  const navigate = useNavigate();
  if (!plan.data)
    return <Station aside={null}>{plan.isError ? plan.error.message : "Opening the plan …"}</Station>;

  const edit: Edit = (field) => async (was, now) => {
    const next = await editPlan(id, field, was, now);
    await client.cancelQueries({ queryKey: keys.part(id, "plan") });
    client.setQueryData(keys.part(id, "plan"), next);
    await client.invalidateQueries({ queryKey: keys.part(id, "rack") });
  };
  const { trial, problems } = plan.data;
  const settled = trial.frozen_utc !== null;
  return (
    <Station aside={<PlanSoWhat plan={plan.data} />}>
      <Field
        label="The question"
        big
        bare
        value={trial.question}
        onSave={edit("question")}
        draftKey={`${id} question`}
      />
      <div className="mt-3 grid gap-4">
        <Field
          label={
            plan.data.broken
              ? "Your guess (a piece is broken: it stays as it was)"
              : "Your guess, before anything is broken"
          }
          bare
          disabled={plan.data.broken > 0}
          value={trial.guess}
          placeholder="What do you expect, and how sure are you?"
          onSave={edit("guess")}
          draftKey={`${id} guess`}
        />
        <Choice
          label="What is judged"
          value={trial.judged}
          options={[
            ["joint", "joint as built"],
            ["glue", "glue alone"],
            ["both", "both"],
          ]}
          onChange={(now) => void act.run(() => edit("judged")(trial.judged, now))}
        />
      </div>
      <Trouble problem={act.problem} />
      <Varied plan={plan.data} edit={edit} settled={settled} />
      <Boards plan={plan.data} settled={settled} />
      <ThePiece plan={plan.data} edit={edit} settled={settled} />
      <HeldConstant plan={plan.data} edit={edit} />
      <section className="mt-6 border-t border-graphite pt-4">
        {settled ? (
          <p>
            The plan is settled: every piece has its label.{" "}
            <button type="button" className="link" onClick={() => void act.run(() => reopen(id))}>
              Reopen the plan
            </button>
          </p>
        ) : (
          <button
            type="button"
            className="press press-main w-full press-on"
            disabled={problems.length > 0 || act.busy}
            onClick={async () => {
              if (await act.run(() => settle(id))) navigate("../saw");
            }}
          >
            {problems.length > 0
              ? "Not complete yet: see what is missing"
              : "Settle the plan and label the pieces"}
          </button>
        )}
      </section>
    </Station>
  );
}

function ThePiece({ plan, edit, settled }: { plan: Plan; edit: Edit; settled: boolean }) {
  const { id } = useTrial();
  const act = useAct(id);
  const shown = plan.quantities.filter((one) =>
    [...plan.needed_sizes, "length_mm", "span_mm"].includes(one.name),
  );
  const useful = shown.filter((one) => one.name !== "span_mm" || plan.trial.fixture !== "block-shear");
  const typed = Object.fromEntries(plan.quantities.map((one) => [one.name, one.typed]));
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">The piece</h2>
      <div className="mt-2 grid items-start gap-x-5 gap-y-3 md:grid-cols-2">
        <div className="grid gap-3">
          <Pick
            label="Joint"
            value={plan.trial.joint}
            disabled={settled}
            options={Object.entries(plan.joints)}
            onChange={(now) => void act.run(() => edit("joint")(plan.trial.joint, now))}
          />
          <Pick
            label="Fixture: how the rig loads it"
            value={plan.trial.fixture}
            disabled={settled}
            options={plan.fixtures.map((one) => [one.name, one.words] as const)}
            onChange={(now) => void act.run(() => edit("fixture")(plan.trial.fixture, now))}
          />
          <p className="pencil text-sm">Strength = {plan.fixture.formula}</p>
        </div>
        <div className="grid grid-cols-2 gap-3">
          {useful.map((one) => (
            <Field
              key={one.name}
              label={`${one.words}${plan.needed_sizes.includes(one.name) ? "" : " (if you like)"}`}
              value={one.typed}
              hint={one.typed ? undefined : one.default_unit}
              onSave={edit(one.name)}
              draftKey={`${id} ${one.name}`}
            />
          ))}
        </div>
      </div>
      <Trouble problem={act.problem} />
      <div className="mt-3 flex justify-center">
        <FixtureDrawing fixture={plan.trial.fixture} joint={plan.trial.joint} sizes={typed} />
      </div>
    </section>
  );
}
