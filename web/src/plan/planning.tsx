// What every part of the Plan station works with: the plan, how a field of it is saved, and a reason when it is settled.
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useState } from "react";
import { ProblemError, type Schemas } from "../api/client";
import { type Act, keys, useAct } from "../app/changes";
import { Ask } from "../ui/Ask";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { editPlan } from "./queries";

export type Plan = Schemas["PlanView"];
export type Factor = Plan["factors"][number];
export type Save = (was: string, now: string) => Promise<unknown>;

interface Planning {
  id: number;
  plan: Plan;
  settled: boolean;
  /** Saves one field of the plan; a settled plan asks for a reason first. */
  edit: (field: string) => Save;
}

const PlanContext = createContext<Planning | null>(null);

export function usePlanning(): Planning & { act: Act } {
  const planning = useContext(PlanContext);
  if (!planning) throw new Error("outside the Plan station");
  return { ...planning, act: useAct(planning.id) };
}

interface Wanted {
  words: string;
  give: (reason: string | null) => void;
}

export function PlanProvider({ id, plan, children }: { id: number; plan: Plan; children: React.ReactNode }) {
  const client = useQueryClient();
  const [wanted, setWanted] = useState<Wanted | null>(null);
  const save = async (field: string, was: string, now: string, reason: string): Promise<void> => {
    const next = await editPlan(id, field, was, now, reason);
    await client.cancelQueries({ queryKey: keys.part(id, "plan") });
    client.setQueryData(keys.part(id, "plan"), next);
    // saved is saved: what is fetched after it must not keep the field waiting
    for (const part of ["rack", "cut-list"]) void client.invalidateQueries({ queryKey: keys.part(id, part) });
  };
  const edit =
    (field: string): Save =>
    async (was, now) => {
      try {
        await save(field, was, now, "");
      } catch (error) {
        if (!(error instanceof ProblemError) || error.problem.code !== "reason-needed") throw error;
        const reason = await new Promise<string | null>((give) =>
          setWanted({ words: error.problem.title, give }),
        );
        if (!reason) throw error;
        await save(field, was, now, reason);
      }
    };
  const settled = plan.trial.frozen_utc !== null;
  return (
    <PlanContext value={{ id, plan, settled, edit }}>
      {children}
      {wanted && (
        <Ask
          title="The plan is settled"
          label={`${wanted.words} Why? The reason stays beside the change.`}
          press="Change it"
          onAnswer={async (reason) => {
            wanted.give(reason);
            return true;
          }}
          onClose={() => {
            wanted.give(null);
            setWanted(null);
          }}
        />
      )}
    </PlanContext>
  );
}

interface EntryProps {
  name: string;
  label?: string;
  bare?: boolean;
  big?: boolean;
  hideLabel?: boolean;
  disabled?: boolean;
  placeholder?: string;
  wraps?: boolean;
}

/** A quantity of the plan, in any unit. */
export function Quantity({ name, label, ...rest }: EntryProps) {
  const { id, plan, settled, edit } = usePlanning();
  const one = plan.quantities.find((quantity) => quantity.name === name);
  if (!one) return null;
  return (
    <Field
      {...rest}
      label={label ?? one.words}
      value={one.typed}
      hint={one.typed ? undefined : one.default_unit}
      onSave={edit(name)}
      saveWhileTyping={!settled}
      draftKey={`${id} ${name}`}
    />
  );
}

type Word = keyof Plan["trial"];

/** Words of the plan. */
export function Words({ name, label, ...rest }: EntryProps & { name: Word; label: string }) {
  const { id, plan, settled, edit } = usePlanning();
  return (
    <Field
      {...rest}
      label={label}
      value={String(plan.trial[name] ?? "")}
      onSave={edit(name)}
      saveWhileTyping={!settled}
      draftKey={`${id} ${name}`}
    />
  );
}

interface ChosenProps {
  name: Word;
  label: string;
  options: readonly (readonly [string, string])[];
  hideLabel?: boolean;
  bare?: boolean;
  disabled?: boolean;
}

/** One of the choices of the plan. */
export function Chosen({ name, label, options, ...rest }: ChosenProps) {
  const { plan, edit, act } = usePlanning();
  const value = String(plan.trial[name] ?? "");
  return (
    <div className="min-w-0">
      <Pick
        {...rest}
        label={label}
        value={value}
        options={options}
        onChange={(now) => void act.run(() => edit(name)(value, now))}
      />
      <Trouble problem={act.problem} />
    </div>
  );
}

/** A heading of the plan, with what belongs to it on the right. */
export function Part({
  id,
  title,
  side,
  children,
}: {
  id: string;
  title: string;
  side?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <section id={id} aria-labelledby={`${id}-title`} className="mt-7 scroll-mt-20 lg:scroll-mt-14">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4 border-b rule pb-1">
        <h2 id={`${id}-title`} className="text-lg">
          {title}
        </h2>
        {side && <div className="pencil text-sm">{side}</div>}
      </div>
      {children}
    </section>
  );
}

/** What can hurt or go wrong, beside the field where it is chosen. */
export function Cautions({ at }: { at: Schemas["Caution"]["where"] }) {
  const { plan } = usePlanning();
  return plan.consequences.cautions
    .filter((one) => one.where === at)
    .map((one) => (
      <p
        key={one.words}
        id={`caution-${at}`}
        className="mt-1 scroll-mt-16 border-l-2 border-iron pl-2 text-sm"
      >
        {one.words}
      </p>
    ));
}

/** More of something, out of the way until it is wanted. */
export function More({
  title,
  open,
  children,
}: {
  title: React.ReactNode;
  open?: boolean;
  children: React.ReactNode;
}) {
  return (
    <details className="mt-3 border-l-2 rule pl-3" open={open}>
      <summary className="min-h-[32px] cursor-pointer py-1 text-layout">{title}</summary>
      <div className="pt-1 pb-2">{children}</div>
    </details>
  );
}
