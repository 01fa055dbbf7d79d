// The check weight of a rig: asked for once on a day of breaking, and what it said last.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { checkRig } from "../shop/queries";
import { isFaulty, Trouble } from "../ui/Trouble";

export function CheckWeight({ rig }: { rig: Schemas["BreakRig"] }) {
  const act = useAct();
  const [shown, setShown] = useState("");
  const { check } = rig;
  if (!check) return null;
  if (!check.is_due)
    return <p className={check.holds ? "pencil" : "text-iron"}>Check weight today: {check.last}.</p>;
  const keep = async () => {
    if (await act.run(() => checkRig(rig.id, shown))) setShown("");
  };
  return (
    <div className="mt-2 flex flex-wrap items-end gap-3 border-l-4 border-amber pl-3">
      <p className="grow">
        No check weight was read today. Hang {check.weight} on {rig.name}. Last: {check.last}.
      </p>
      <label>
        <span className="sr-only">Under the check weight it shows</span>
        <input
          className="entry w-32"
          placeholder="it shows"
          value={shown}
          autoComplete="off"
          aria-invalid={isFaulty(act.problem, "shown")}
          onChange={(event) => setShown(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            void keep();
          }}
        />
      </label>
      <button type="button" className="press" disabled={act.busy} onClick={() => void keep()}>
        Write it down
      </button>
      <Trouble problem={act.problem} />
    </div>
  );
}
