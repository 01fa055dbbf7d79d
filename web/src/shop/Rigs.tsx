// The rigs of the shop.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { Plates } from "./Plates";
import { removeRig } from "./queries";
import { RigForm } from "./RigForm";
import { RigTruth } from "./RigTruth";

export function Rigs({ shop }: { shop: Schemas["ShopView"] }) {
  const act = useAct();
  const [editing, setEditing] = useState<number | "new" | null>(null);
  const [told, setTold] = useState<number | null>(null);
  const words = (kind: string) => shop.rig_kinds.find((one) => one.name === kind)?.words ?? kind;
  return (
    <section aria-label="Rigs">
      {shop.rigs.length === 0 && (
        <p className="pencil py-2">
          None. A scale, plates, a bucket, a jack, a lever or a press: its load is entered as it is read; one
          that prints over a serial line is read live.
        </p>
      )}
      {shop.rigs.map((rig) => (
        <div key={rig.id} className="border-b rule py-2">
          <p className="flex flex-wrap items-baseline gap-3">
            <strong>{rig.entry.name}</strong>
            <span className="grow">{words(rig.entry.kind ?? "press")}</span>
            <button
              type="button"
              className="link"
              aria-expanded={told === rig.id}
              onClick={() => setTold(told === rig.id ? null : rig.id)}
            >
              its truth
            </button>
            <button
              type="button"
              className="link"
              onClick={() => setEditing(editing === rig.id ? null : rig.id)}
            >
              set up
            </button>
            <button type="button" className="link" onClick={() => void act.run(() => removeRig(rig.id))}>
              remove
            </button>
          </p>
          <p className="pencil text-sm">
            pulls {rig.entry.capacity}, reads to {rig.entry.resolution}, version {rig.version}
            {rig.entry.url && (
              <>
                , prints {rig.entry.unit} at <span className="mono">{rig.entry.url}</span>
              </>
            )}
          </p>
          {told === rig.id && <RigTruth rig={rig} />}
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
      <Plates plates={shop.plates} />
    </section>
  );
}
