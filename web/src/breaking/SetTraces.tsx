// The pulls of one set over one another, by time or displacement, and what the displacement says of each.
import { useState } from "react";
import { useTrial } from "../app/TrialShell";
import { asLine, LoadDeflection } from "../charts/LoadDeflection";
import { useUnits } from "../shop/useUnits";
import { Choice } from "../ui/Choice";
import { useSetTraces } from "./queries";

export function SetTraces({ treatmentId }: { treatmentId: number }) {
  const { id } = useTrial();
  const { force, length } = useUnits();
  const [over, setOver] = useState<"time" | "displacement">("time");
  const traces = useSetTraces(id, treatmentId).data;
  if (!traces) return null;
  if (traces.length === 0) return <p className="pencil">No piece of this set has a recorded pull.</p>;
  const moved = traces.filter((one) => one.trace.curve.length > 0);
  // a dial that a person read has no times
  const timed = traces.filter((one) => one.trace.points.length > 0);
  const along = timed.length === 0 ? "displacement" : over;
  const shown = along === "displacement" ? moved : timed;
  return (
    <section className="mt-3" aria-label="The pulls of the set">
      {moved.length > 0 && timed.length > 0 && (
        <Choice
          label="Over"
          hideLabel
          value={along}
          options={[
            ["time", "over time"],
            ["displacement", "over displacement"],
          ]}
          onChange={setOver}
        />
      )}
      <LoadDeflection
        lines={shown.map((one) => asLine(one.label, one.trace, along))}
        over={along}
        force={force}
        length={length}
      />
      <p className="pencil text-sm">
        A dot is the peak, a triangle the first drop. {traces.length} recorded
        {moved.length > 0 && moved.length < traces.length && `, ${moved.length} of them with displacement`}.
      </p>
    </section>
  );
}
