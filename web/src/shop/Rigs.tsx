// The rigs of the shop.
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { RigForm } from "./RigForm";

export function Rigs({ shop }: { shop: Schemas["ShopView"] }) {
  const act = useAct();
  const [editing, setEditing] = useState<number | "new" | null>(null);
  const words = (kind: string) => shop.rig_kinds.find((one) => one.name === kind)?.words ?? kind;
  return (
    <section aria-label="Rigs">
      {shop.rigs.length === 0 && (
        <p className="pencil py-2">
          None. Breaks can be typed by hand; a rig that prints its load over a serial line is read live.
        </p>
      )}
      {shop.rigs.map((rig) => (
        <div key={rig.id} className="border-b rule py-2">
          <p className="flex flex-wrap items-baseline gap-3">
            <strong>{rig.name}</strong>
            <span className="grow">{words(rig.kind)}</span>
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
            pulls {rig.capacity_typed}, reads to {rig.resolution_typed}
            {rig.url && (
              <>
                , prints {rig.unit} at <span className="mono">{rig.url}</span>
              </>
            )}
          </p>
          {editing === rig.id && <RigForm rig={rig} shop={shop} onDone={() => setEditing(null)} />}
        </div>
      ))}
      {editing === "new" ? (
        <RigForm shop={shop} onDone={() => setEditing(null)} />
      ) : (
        <button type="button" className="press mt-3" onClick={() => setEditing("new")}>
          Add a rig
        </button>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}
