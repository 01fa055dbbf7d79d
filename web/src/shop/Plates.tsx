// The plates of the shop: what one weighs, and how many there are; they are hung on a piece in steps.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { removePlate, savePlate } from "./queries";

export function Plates({ plates }: { plates: Schemas["PlateView"][] }) {
  const act = useAct();
  const [editing, setEditing] = useState<number | "new" | null>(null);
  return (
    <section className="mt-5 border-t rule pt-3" aria-label="Plates">
      <h3 className="text-lg">Plates and weights to hang</h3>
      {plates.length === 0 && (
        <p className="pencil py-1">
          None. With them, weights in steps are one press each at the Break station.
        </p>
      )}
      {plates.map((row) => (
        <div key={row.id} className="border-b rule py-1">
          <p className="flex flex-wrap items-baseline gap-3">
            <strong className="grow">
              {row.entry.number} × {row.entry.weight}
            </strong>
            <button
              type="button"
              className="link"
              onClick={() => setEditing(editing === row.id ? null : row.id)}
            >
              change
            </button>
            <button type="button" className="link" onClick={() => void act.run(() => removePlate(row.id))}>
              remove
            </button>
          </p>
          {editing === row.id && <PlateForm row={row} onDone={() => setEditing(null)} />}
        </div>
      ))}
      {editing === "new" ? (
        <PlateForm onDone={() => setEditing(null)} />
      ) : (
        <button type="button" className="press mt-2" onClick={() => setEditing("new")}>
          Add plates
        </button>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

const EMPTY: Schemas["PlateEntry"] = { weight: "", number: "" };

function PlateForm({ row, onDone }: { row?: Schemas["PlateView"]; onDone: () => void }) {
  const act = useAct();
  const [there] = useState(row);
  const { form, text } = useForm(there?.entry ?? EMPTY, act.problem);
  const save = async () => {
    if (await act.run(() => savePlate(form, there))) onDone();
  };
  return (
    <form
      className="my-2 grid grid-cols-2 items-start gap-3 border-l-4 border-layout pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {text("weight", "One weighs", "10 kg")}
      {text("number", "How many", "4")}
      <div className="col-span-2">
        <Trouble problem={act.problem} />
      </div>
      <button type="submit" className="press press-on" disabled={act.busy}>
        {row ? "Save them" : "Put into the shop"}
      </button>
      <button type="button" className="press press-plain" onClick={onDone}>
        Leave it
      </button>
    </form>
  );
}
