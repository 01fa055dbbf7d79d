// The shop: glues, rigs and units, in a drawer that opens over any screen.
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useAct, useShop } from "../app/queries";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { RigForm } from "./RigForm";

interface Props {
  open: boolean;
  onClose: () => void;
}

export function ShopDrawer({ open, onClose }: Props) {
  const shop = useShop().data;
  return (
    <Dialog open={open} onClose={onClose} className="relative z-20">
      <DialogBackdrop className="fixed inset-0 bg-graphite/30" />
      <div className="fixed inset-y-0 right-0 flex w-[min(40rem,96vw)]">
        <DialogPanel className="w-full overflow-y-auto bg-sheet p-5 shadow-lg">
          <div className="flex items-center justify-between">
            <DialogTitle className="text-2xl">The shop</DialogTitle>
            <button type="button" className="press press-plain" onClick={onClose}>
              Close
            </button>
          </div>
          {shop && (
            <>
              <Glues shop={shop} />
              <Rigs shop={shop} />
              <Units units={shop.units} />
              {shop.undo && <Undo what={shop.undo} />}
            </>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Undo({ what }: { what: string }) {
  const act = useAct();
  return (
    <p className="mt-6 border-t rule pt-3">
      <button
        type="button"
        className="link"
        onClick={() => void act.run(() => ask(api.POST("/api/shop/undo")))}
      >
        Undo in the shop: {what}
      </button>
      <Trouble problem={act.problem} />
    </p>
  );
}

function Glues({ shop }: { shop: Schemas["ShopView"] }) {
  const act = useAct();
  const [name, setName] = useState("");
  const [family, setFamily] = useState("");
  const [opened, setOpened] = useState("");
  const [lot, setLot] = useState("");
  const add = async () => {
    const body = { name, family, opened_on: opened || null, lot };
    if (await act.run(() => ask(api.POST("/api/shop/glues", { body })))) {
      setName("");
      setLot("");
      setOpened("");
    }
  };
  const edit = (id: number, field: string) => (was: string, now: string) =>
    ask(
      api.PATCH("/api/shop/glues/{glue_id}", {
        params: { path: { glue_id: id } },
        body: { field, was, now },
      }),
    ).then(() => act.run(async () => undefined));
  const remove = (id: number) =>
    void act.run(() => ask(api.DELETE("/api/shop/glues/{glue_id}", { params: { path: { glue_id: id } } })));
  return (
    <section className="mt-5">
      <h2 className="border-b rule pb-1 text-lg">Glues</h2>
      {shop.glues.length === 0 && (
        <p className="pencil py-2">None yet. Each is a bottle or a pack that is open now.</p>
      )}
      {shop.glues.map((glue) => (
        <div key={glue.id} className="border-b rule py-2">
          <p className="flex items-baseline gap-3">
            <strong>{glue.name}</strong>
            <span className="grow">{glue.family}</span>
            <button type="button" className="link" onClick={() => remove(glue.id)}>
              remove
            </button>
          </p>
          <div className="grid grid-cols-2 gap-3">
            <Field
              label="opened on"
              bare
              value={glue.opened_on ?? ""}
              placeholder="2026-03-01"
              onSave={edit(glue.id, "opened_on")}
            />
            <Field label="lot" bare value={glue.lot} onSave={edit(glue.id, "lot")} />
          </div>
          <p className="pencil text-sm">{glue.caution}</p>
        </div>
      ))}
      <form
        className="mt-3 grid grid-cols-2 items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void add();
        }}
      >
        <label>
          <span className="label">Name on the bottle</span>
          <input className="entry" value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <Pick
          label="Family"
          value={family}
          options={[["", "choose …"], ...shop.families.map((one) => [one, one] as const)]}
          onChange={setFamily}
        />
        <label>
          <span className="label">Opened on</span>
          <input type="date" className="entry" value={opened} onChange={(e) => setOpened(e.target.value)} />
        </label>
        <label>
          <span className="label">Lot</span>
          <input className="entry" value={lot} onChange={(e) => setLot(e.target.value)} />
        </label>
        <button type="submit" className="press col-span-2" disabled={act.busy || !name.trim()}>
          Put it on the shelf
        </button>
      </form>
      <Trouble problem={act.problem} />
    </section>
  );
}

function Rigs({ shop }: { shop: Schemas["ShopView"] }) {
  const act = useAct();
  const [editing, setEditing] = useState<number | "new" | null>(null);
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">Rigs</h2>
      {shop.rigs.length === 0 && (
        <p className="pencil py-2">
          None. Breaks can be typed by hand; a rig that prints its load over a serial line is read live.
        </p>
      )}
      {shop.rigs.map((rig) => (
        <div key={rig.id} className="border-b rule py-2">
          <p className="flex flex-wrap items-baseline gap-3">
            <strong>{rig.name}</strong>
            <span className="mono grow text-sm">{rig.url}</span>
            <button
              type="button"
              className="link"
              onClick={() => setEditing(editing === rig.id ? null : rig.id)}
            >
              set up
            </button>
            <button
              type="button"
              className="link"
              onClick={() =>
                void act.run(() =>
                  ask(api.DELETE("/api/shop/rigs/{rig_id}", { params: { path: { rig_id: rig.id } } })),
                )
              }
            >
              remove
            </button>
          </p>
          <p className="pencil text-sm">
            pulls {rig.capacity_typed}, reads to {rig.resolution_typed}, prints {rig.unit}
          </p>
          {editing === rig.id && <RigForm rig={rig} onDone={() => setEditing(null)} />}
        </div>
      ))}
      {editing === "new" ? (
        <RigForm onDone={() => setEditing(null)} />
      ) : (
        <button type="button" className="press mt-3" onClick={() => setEditing("new")}>
          Add a rig
        </button>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

type UnitName = "length" | "force" | "stress" | "temperature";

function Units({ units }: { units: Schemas["UnitsView"] }) {
  const act = useAct();
  const now = {
    length: units.length.symbol,
    force: units.force.symbol,
    stress: units.stress.symbol,
    temperature: units.temperature.symbol,
  };
  const choose = (name: UnitName, value: string) =>
    void act.run(() =>
      ask(api.PATCH("/api/shop/units", { body: { field: name, was: now[name], now: value } })),
    );
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">Units on the screens</h2>
      <p className="pencil py-1 text-sm">Any unit can be typed anywhere. What was typed is kept as it was.</p>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        {(["length", "force", "stress", "temperature"] as const).map((name) => (
          <Pick
            key={name}
            label={name}
            value={now[name]}
            options={(units.offered[name] ?? []).map((one) => [one, one] as const)}
            onChange={(value) => choose(name, value)}
          />
        ))}
      </div>
      <Trouble problem={act.problem} />
    </section>
  );
}
