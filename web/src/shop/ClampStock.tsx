// Clamps and weights in the shop: how many, what force each gives, how pieces lie in them.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { removeClamps, saveClamps } from "./queries";

type Row = Schemas["ClampsView"];

export function ClampStock({ shop }: { shop: Schemas["ShopView"] }) {
  const act = useAct();
  const [editing, setEditing] = useState<number | "new" | null>(shop.clamps.length ? null : "new");
  return (
    <section aria-label="Clamps">
      {shop.clamps.length === 0 && (
        <p className="pencil py-2">
          None yet. With number and force, the rounds of a plan are counted, dummies included.
        </p>
      )}
      {shop.clamps.map((row) => (
        <div key={row.id} className="border-b rule py-2">
          <p className="flex flex-wrap items-baseline gap-3">
            <strong>
              {row.entry.number} × {row.entry.name}
            </strong>
            <span className="grow">{row.entry.kind}</span>
            <button
              type="button"
              className="link"
              onClick={() => setEditing(editing === row.id ? null : row.id)}
            >
              change
            </button>
            <button type="button" className="link" onClick={() => void act.run(() => removeClamps(row.id))}>
              remove
            </button>
          </p>
          <p className="pencil text-sm">
            {row.entry.force} each ({row.entry.force_known}); up to {row.entry.side_by_side} side by side,{" "}
            {row.entry.in_line} in line
          </p>
          {editing === row.id && (
            <ClampForm row={row} kinds={shop.clamp_kinds} onDone={() => setEditing(null)} />
          )}
        </div>
      ))}
      {editing === "new" ? (
        <ClampForm kinds={shop.clamp_kinds} onDone={() => setEditing(null)} />
      ) : (
        <button type="button" className="press mt-3" onClick={() => setEditing("new")}>
          Add clamps or weights
        </button>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

const EMPTY: Schemas["ClampsEntry"] = {
  name: "",
  kind: "screw clamp",
  number: "",
  force: "",
  force_known: "guessed",
  in_line: "1",
  side_by_side: "1",
};

interface FormProps {
  row?: Row;
  kinds: Schemas["ClampKind"][];
  onDone: () => void;
}

function ClampForm({ row, kinds, onDone }: FormProps) {
  const act = useAct();
  const [there] = useState(row);
  const { form, set, text } = useForm(there?.entry ?? EMPTY, act.problem);
  const save = async () => {
    if (await act.run(() => saveClamps(form, there))) onDone();
  };
  return (
    <form
      className="my-3 grid grid-cols-2 items-start gap-3 border-l-4 border-layout pl-3 sm:grid-cols-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {text("name", "Name", "bar clamp")}
      <Pick
        label="What presses"
        value={form.kind}
        options={kinds.map((one) => [one, one] as const)}
        onChange={(kind) => set({ kind })}
      />
      {text("number", "How many", "6")}
      {text("force", form.kind === "weight" ? "Weight of one" : "Force of one, at most", "3 kN")}
      <Pick
        label="The force is"
        value={form.force_known}
        options={[
          ["guessed", "guessed"],
          ["measured", "measured with a cell"],
        ]}
        onChange={(force_known) => set({ force_known })}
      />
      <span className="hidden sm:block" />
      {text("side_by_side", "Pieces side by side (share it)", "1")}
      {text("in_line", "Pieces in line (each gets it all)", "1")}
      <div className="col-span-2 sm:col-span-3">
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
