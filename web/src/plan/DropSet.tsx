// A set that no longer matters: its pieces that are not broken stay whole, with the reason.
import { useState } from "react";
import { Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { usePlanning } from "./planning";
import { dropSet } from "./queries";

export function DropSet() {
  const { id, plan, act } = usePlanning();
  const [set, setSet] = useState("");
  const [reason, setReason] = useState("");
  const leads = isFaulty(act.problem, "although_leading");
  const drop = async (although_leading: boolean) => {
    const done = await act.run(() => dropSet(id, { treatment_id: Number(set), reason, although_leading }));
    if (done) {
      setSet("");
      setReason("");
    }
  };
  const options = plan.treatments
    .filter((one) => !one.left_out)
    .map((one) => [String(one.id), one.name] as const);
  return (
    <details className="mt-2">
      <summary className="link min-h-6">Drop a set that no longer matters</summary>
      <form
        className="mt-2 grid max-w-[34rem] gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void drop(false);
        }}
      >
        <p className="text-sm">What is broken of it stays and counts; the rest of its pieces stays whole.</p>
        <Pick label="The set" value={set} options={[["", "choose"], ...options]} onChange={setSet} />
        <label className="block">
          <span className="label">What makes it not matter; it stays beside the result</span>
          <input className="entry" value={reason} onChange={(event) => setReason(event.target.value)} />
        </label>
        <button type="submit" className="press justify-self-start" disabled={act.busy || !set}>
          Leave its pieces whole
        </button>
        {leads && (
          <button
            type="button"
            className="press press-plain justify-self-start"
            onClick={() => void drop(true)}
          >
            Drop it although it leads
          </button>
        )}
        <Trouble problem={act.problem} />
      </form>
    </details>
  );
}
