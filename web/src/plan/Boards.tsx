// The boards that the pieces come off, and how many each holds.
import { useState } from "react";
import { useAct } from "../app/queries";
import { useTrial } from "../app/TrialShell";
import { Field } from "../ui/Field";
import { Trouble } from "../ui/Trouble";
import type { Plan } from "./PlanPage";
import { addBoards, editBoard, removeBoard } from "./queries";

export function Boards({ plan, settled }: { plan: Plan; settled: boolean }) {
  const { id } = useTrial();
  const act = useAct(id);
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">Boards</h2>
      {plan.boards.length > 0 && (
        <table className="plain mt-1">
          <thead>
            <tr>
              <th>board</th>
              <th className="!text-left">wood</th>
              <th>holds</th>
              <th>
                <span className="sr-only">remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {plan.boards.map((board) => {
              const save = (field: string) => (was: string, now: string) =>
                editBoard(id, board.id, field, was, now).then(() => act.run(async () => undefined));
              return (
                <tr key={board.id}>
                  <td>
                    <Field label="Board" hideLabel bare value={board.name} onSave={save("name")} />
                  </td>
                  <td>
                    <Field label="Wood" hideLabel bare value={board.species} onSave={save("species")} />
                  </td>
                  <td className="w-24">
                    <Field
                      label="Holds"
                      hideLabel
                      bare
                      disabled={settled}
                      value={String(board.holds)}
                      onSave={save("holds")}
                    />
                  </td>
                  <td className="w-20">
                    {!settled && (
                      <button
                        type="button"
                        className="link"
                        onClick={() => void act.run(() => removeBoard(id, board.id))}
                      >
                        remove
                      </button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <Trouble problem={act.problem} />
      {!settled && <AddBoards plan={plan} />}
    </section>
  );
}

function AddBoards({ plan }: { plan: Plan }) {
  const { id } = useTrial();
  const act = useAct(id);
  const last = plan.boards.at(-1);
  const short = Math.max(0, plan.consequences.pieces - plan.consequences.places);
  const sets = Math.max(1, plan.treatments.length);
  const [count, setCount] = useState("");
  const [species, setSpecies] = useState("");
  const [holds, setHolds] = useState("");
  const suggested = {
    holds: String(last?.holds ?? sets),
    count: String(Math.max(1, Math.ceil(short / (last?.holds ?? sets)))),
  };
  return (
    <form
      className="mt-3 grid grid-cols-[5.5rem_1fr_6.5rem_auto] items-end gap-3"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = {
          species: species || (last?.species ?? ""),
          holds: holds || suggested.holds,
          count: count || suggested.count,
        };
        if (await act.run(() => addBoards(id, body))) {
          setCount((now) => (now === count ? "" : now));
          setHolds((now) => (now === holds ? "" : now));
        }
      }}
    >
      <label>
        <span className="label">How many</span>
        <input
          className="entry"
          inputMode="numeric"
          placeholder={suggested.count}
          value={count}
          onChange={(e) => setCount(e.target.value)}
        />
      </label>
      <label>
        <span className="label">of what wood</span>
        <input
          className="entry"
          placeholder={last?.species || "ash"}
          value={species}
          onChange={(e) => setSpecies(e.target.value)}
        />
      </label>
      <label>
        <span className="label">pieces each</span>
        <input
          className="entry"
          inputMode="numeric"
          placeholder={suggested.holds}
          value={holds}
          onChange={(e) => setHolds(e.target.value)}
        />
      </label>
      <button type="submit" className="press" disabled={act.busy}>
        Add boards
      </button>
      <div className="col-span-4">
        <Trouble problem={act.problem} />
      </div>
    </form>
  );
}
