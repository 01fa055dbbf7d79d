// A rig that prints another unit than its card says: nothing is armed until a person chose which one is right.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { chooseUnit } from "./queries";

export function UnitDiffers({ rig, printed }: { rig: Schemas["RigView"]; printed: string }) {
  const act = useAct();
  const choose = (right: string) => void act.run(() => chooseUnit(rig.id, printed, right));
  return (
    <div role="alert" className="border-l-4 border-iron bg-iron-pale px-3 py-2">
      {rig.name} prints {printed}, its card says {rig.unit}. One of them is wrong, and every load with it.
      <span className="mt-1 flex flex-wrap gap-2">
        <button type="button" className="press" onClick={() => choose(printed)}>
          It pulls in {printed}: change the card
        </button>
        <button type="button" className="press" onClick={() => choose(rig.unit)}>
          It pulls in {rig.unit}: the printed {printed} means that
        </button>
      </span>
      <Trouble problem={act.problem} />
    </div>
  );
}
