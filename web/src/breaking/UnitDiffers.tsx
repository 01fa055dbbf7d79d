// A rig that prints another unit than its card says: nothing is armed until a person chose which one is right.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { chooseUnit } from "../shop/queries";
import { Trouble } from "../ui/Trouble";

export function UnitDiffers({ rig, printed }: { rig: Schemas["RigView"]; printed: string }) {
  const act = useAct();
  const choose = (right: string) => void act.run(() => chooseUnit(rig.id, printed, right));
  return (
    <div role="alert" className="border-l-4 border-iron bg-iron-pale px-3 py-2">
      {rig.entry.name} prints {printed}, its card says {rig.entry.unit}. One of them is wrong, and every load
      with it.
      <span className="mt-1 flex flex-wrap gap-2">
        <button type="button" className="press" onClick={() => choose(printed)}>
          It pulls in {printed}: change the card
        </button>
        <button type="button" className="press" onClick={() => choose(rig.entry.unit)}>
          It pulls in {rig.entry.unit}: the printed {printed} means that
        </button>
      </span>
      <Trouble problem={act.problem} />
    </div>
  );
}
