// The glues on the shelf: each bottle or pack with its card of figures.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { addGlue, editFigure, editGlue, removeGlue } from "./queries";

type Glue = Schemas["GlueView"];

export function Glues({ shop }: { shop: Schemas["ShopView"] }) {
  return (
    <section aria-label="Glues">
      {shop.glues.length === 0 && (
        <p className="pencil py-2">None yet. Each is a bottle or a pack that is open now.</p>
      )}
      {shop.glues.map((glue) => (
        <GlueCard key={glue.id} glue={glue} families={shop.families} />
      ))}
      <AddGlue families={shop.families} />
    </section>
  );
}

function GlueCard({ glue, families }: { glue: Glue; families: string[] }) {
  const act = useAct();
  const edit = (field: string) => (was: string, now: string) =>
    editGlue(glue.id, field, was, now).then(() => act.run(async () => undefined));
  const figure = (field: string) => (was: string, now: string) =>
    editFigure(glue.id, field, was, now).then(() => act.run(async () => undefined));
  const typed = glue.figures.filter((one) => one.typed);
  return (
    <div className="border-b rule py-3">
      <div className="flex flex-wrap items-baseline gap-3">
        <strong className="text-lg">{glue.name}</strong>
        <span className="grow">{glue.family}</span>
        <button type="button" className="link" onClick={() => void act.run(() => removeGlue(glue.id))}>
          remove
        </button>
      </div>
      <div className="grid grid-cols-3 gap-3">
        <Field
          label="opened on"
          bare
          value={glue.opened_on ?? ""}
          placeholder="2026-03-01"
          onSave={edit("opened_on")}
        />
        <Field label="lot" bare value={glue.lot} onSave={edit("lot")} />
        <Field label="kept" bare value={glue.kept} placeholder="frost-free, closed" onSave={edit("kept")} />
      </div>
      <p className="mt-1 text-sm">{glue.caution}</p>
      {glue.tested.map((words) => (
        <p key={words} className="text-sm">
          Tested here: {words}.
        </p>
      ))}
      <details className="mt-1">
        <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
          Its card
          {typed.length > 0
            ? `: ${typed
                .slice(0, 3)
                .map((one) => `${one.words} ${one.typed}`)
                .join(", ")}`
            : ": the maker’s figures are not typed yet, the family’s usual ones stand in"}
        </summary>
        <div className="mt-1 grid grid-cols-2 gap-x-5 gap-y-2 sm:grid-cols-3">
          <Pick
            label="family"
            bare
            value={glue.family}
            options={families.map((one) => [one, one] as const)}
            onChange={(now) => void act.run(() => edit("family")(glue.family, now))}
          />
          {glue.figures.map((one) => (
            <Field
              key={one.name}
              label={one.words}
              bare
              value={one.typed}
              placeholder={one.usual ? `usual: ${one.usual}` : "not known"}
              onSave={figure(one.name)}
            />
          ))}
        </div>
        <p className="pencil mt-2 text-sm">
          Type what the maker’s sheet says. A figure left empty takes what is usual with the family.
        </p>
      </details>
      <Trouble problem={act.problem} />
    </div>
  );
}

const NEW: Schemas["GlueEntry"] & { opened_on: string } = { name: "", family: "", opened_on: "", lot: "" };

function AddGlue({ families }: { families: Schemas["GlueFamily"][] }) {
  const act = useAct();
  const { form, set, text } = useForm(NEW, act.problem);
  const add = async () => {
    if (await act.run(() => addGlue({ ...form, opened_on: form.opened_on || null })))
      set({ name: "", lot: "", opened_on: "" });
  };
  return (
    <form
      className="mt-3 grid grid-cols-2 items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      {text("name", "Name on the bottle")}
      <Pick
        label="Family"
        value={form.family}
        options={[["", "choose …"], ...families.map((one) => [one, one] as const)]}
        onChange={(family) => set({ family })}
      />
      <label>
        <span className="label">Opened on</span>
        <input
          type="date"
          className="entry"
          value={form.opened_on}
          onChange={(event) => set({ opened_on: event.target.value })}
        />
      </label>
      {text("lot", "Lot")}
      <button type="submit" className="press col-span-2" disabled={act.busy || !form.name.trim()}>
        Put it on the shelf
      </button>
      <div className="col-span-2">
        <Trouble problem={act.problem} />
      </div>
    </form>
  );
}
