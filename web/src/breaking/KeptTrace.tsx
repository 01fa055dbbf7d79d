// The trace of a break that is kept, and where its load is read; what its displacement says; it leaves as text.
import { useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { LiveTrace } from "../charts/LiveTrace";
import { asLine, LoadDeflection } from "../charts/LoadDeflection";
import { useUnits } from "../shop/useUnits";
import { digits } from "../ui/format";
import { LoadPoint } from "./LoadPoint";
import { useTrace } from "./queries";
import { SetTraces } from "./SetTraces";

interface Props {
  pull: Schemas["PullView"];
  label: string;
  treatmentId: number;
}

export function KeptTrace({ pull, label, treatmentId }: Props) {
  const { force, length } = useUnits();
  const trace = useTrace(pull.id);
  const [pointed, setPointed] = useState<number | null>(null);
  const [all, setAll] = useState(false);
  const points = trace.data?.points;
  const feed = useMemo(
    () => ({ times: (points ?? []).map(([t]) => t), loads: (points ?? []).map(([, load]) => load) }),
    [points],
  );
  const reading = trace.data?.reading;
  if (!reading || !trace.data) return null;
  return (
    <>
      <LiveTrace
        feed={feed}
        version={pull.id}
        unit={force}
        peak={pull.load_n}
        height={140}
        mark_s={pull.load_point_s ?? reading.peak_s}
        onPoint={setPointed}
      />
      <LoadPoint pull={pull} reading={reading} pointed_s={pointed} />
      {trace.data.bending && (
        <>
          <LoadDeflection
            lines={[asLine(label, trace.data, "displacement")]}
            over="displacement"
            force={force}
            length={length}
          />
          <Bending bending={trace.data.bending} />
        </>
      )}
      <p className="flex flex-wrap gap-x-5">
        <a className="link" href={`/api/pulls/${pull.id}/trace.csv`} download>
          The trace as text
        </a>
        <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "Only this pull" : "All pulls of its set"}
        </button>
      </p>
      {all && <SetTraces treatmentId={treatmentId} />}
    </>
  );
}

/** What the load over the displacement says: stiffness, where the bend begins to stay, the work, what stayed. */
function Bending({ bending }: { bending: NonNullable<Schemas["TraceView"]["bending"]> }) {
  const { force, show } = useUnits();
  const said = [
    bending.stiffness_n_per_mm !== null && `stiffness ${digits(bending.stiffness_n_per_mm)} N/mm`,
    bending.bend_starts_n !== null &&
      `stays bent from ${show(bending.bend_starts_n, force)} (5 % off its line)`,
    bending.bend_starts_by_span_n !== null &&
      `from ${show(bending.bend_starts_by_span_n, force)} by 0.2 % of the span`,
    `work to the peak ${digits(bending.energy_j)} J`,
    bending.stayed_bent_mm !== null && `${digits(bending.stayed_bent_mm, 2)} mm stayed`,
  ].filter(Boolean);
  return <p>{said.join("; ")}.</p>;
}
