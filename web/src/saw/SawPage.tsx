// Saw: which piece comes off which board, its label for both halves, a tick when it is done.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Station, useTrial } from "../app/TrialShell";
import { useMaking } from "../glue/queries";
import { editPlan, tickStep, useCutList, usePlan } from "../plan/queries";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { Field } from "../ui/Field";
import { convert, plainSize } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { BoardSaw } from "./BoardSaw";
import { Labels } from "./Labels";
import { markSawn, relabel } from "./queries";

type Piece = Schemas["MakingPiece"];

export function SawPage() {
  const { id, rack } = useTrial();
  const cuts = useCutList(id);
  const plan = usePlan(id);
  const making = useMaking(id);
  const act = useAct(id);
  const [renaming, setRenaming] = useState<Piece | null>(null);
  const prepVaries = plan.data?.factors.some((one) => one.kind === "prep");
  const prep = prepVaries ? "each as its set says" : (plan.data?.trial.prep ?? "");
  const pieces = making.data?.pieces ?? [];
  const left = pieces.filter((piece) => piece.can.includes("saw"));
  const tick = (chosen: Piece[], sawn: boolean) =>
    void act.run(() =>
      markSawn(
        id,
        chosen.map((piece) => piece.id),
        sawn,
      ),
    );
  return (
    <Station aside={<SawSoWhat pieces={pieces} sizes={making.data?.sizes ?? []} />}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">
          {left.length ? `${left.length} pieces to saw and label` : "Everything is sawn and labelled"}
        </h2>
        {left.length > 0 && (
          <button type="button" className="press" disabled={act.busy} onClick={() => tick(left, true)}>
            All are sawn and labelled
          </button>
        )}
      </div>
      {!renaming && <Trouble problem={act.problem} />}
      <Labels />
      <Machines />
      <Steps turn="before" />
      {rack.boards.map((board) => {
        const mine = pieces.filter((piece) => piece.board === board.name);
        if (mine.length === 0) return null;
        return (
          <BoardSaw
            key={board.id}
            name={board.name}
            species={board.species}
            pieces={mine}
            cuts={cuts.data?.boards.find((one) => one.id === board.id)}
            prep={prep}
            onRename={setRenaming}
          />
        );
      })}
      {renaming && (
        <Ask
          title={`Another label for ${renaming.label}`}
          label="What is written on both halves"
          press="Relabel"
          start={renaming.label}
          onClose={() => {
            act.clear();
            setRenaming(null);
          }}
          problem={act.problem}
          onAnswer={(label) => act.run(() => relabel(id, renaming.id, renaming.label, label))}
        />
      )}
    </Station>
  );
}

const MACHINES = [
  ["fence", "Fence"],
  ["stop_block", "Stop block"],
  ["blade", "Blade"],
  ["planer", "Planer thickness"],
] as const;

/** How the machines are set: written down once, so that the next cut is the same. */
function Machines() {
  const { id } = useTrial();
  const act = useAct(id);
  const trial = usePlan(id).data?.trial;
  if (!trial) return null;
  return (
    <section className="mt-4" aria-label="How the machines are set">
      <h3 className="border-b rule pb-1 text-lg">How the machines are set</h3>
      <div className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 xl:grid-cols-4">
        {MACHINES.map(([name, words]) => (
          <Field
            key={name}
            label={words}
            bare
            value={trial[name]}
            placeholder="not noted"
            onSave={async (was, now) => {
              await editPlan(id, name, was, now);
              await act.run(async () => undefined);
            }}
            draftKey={`${id} ${name}`}
          />
        ))}
      </div>
      <Trouble problem={act.problem} />
    </section>
  );
}

/** Work that cannot be done any more once it is glued, from the plan. */
function Steps({ turn }: { turn: string }) {
  const { id } = useTrial();
  const act = useAct(id);
  const steps = usePlan(id).data?.steps.filter((step) => step.turn === turn) ?? [];
  if (steps.length === 0) return null;
  return (
    <section className="mt-4">
      <h3 className="border-b rule pb-1 text-lg">Before glue-up</h3>
      {steps.map((step) => (
        <label key={step.id} className="flex min-h-[44px] items-center gap-3 border-b rule">
          <input
            type="checkbox"
            className="size-6 accent-layout"
            checked={step.done_utc !== null}
            onChange={() => void act.run(() => tickStep(id, step.id, step.done_utc === null))}
          />
          {step.words}
        </label>
      ))}
      <Trouble problem={act.problem} />
    </section>
  );
}

function SawSoWhat({ pieces, sizes }: { pieces: Piece[]; sizes: Schemas["SizeColumn"][] }) {
  const { length } = useUnits();
  const joined = pieces.filter((piece) => !piece.solid).length;
  return (
    <>
      <p>
        Write the label on <strong>both halves</strong> of each piece, where the glue and the saw will not
        take it: a pencil on one face, so that it can be read from either end.
      </p>
      {sizes.length > 0 && (
        <dl className="border-t rule">
          {sizes.map((size) => (
            <div key={size.name} className="grid grid-cols-[7rem_1fr] border-b rule py-1">
              <dt className="pencil">{size.words}</dt>
              <dd>
                {size.planned_mm === null
                  ? "–"
                  : `${plainSize(convert(size.planned_mm, length))} ${length.symbol}`}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {joined < pieces.length && <p>{joined} of them get a joint; solid ones are only cut to size.</p>}
      <p className="border-t rule pt-3 text-sm">
        Small parts: hold-down or push block, fingers away from the line, the stop block clear of the offcut.
        Let the blade stop before you lift a piece. Eyes and ears covered.
      </p>
    </>
  );
}
