// The trace of a break that is kept, and where its load is read; what its displacement says; it leaves as text.
import { useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { LiveTrace } from "../charts/LiveTrace";
import { asLine, LoadDeflection } from "../charts/LoadDeflection";
import { useUnits } from "../shop/useUnits";
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
  if (!trace.data) return null;
  const reading = trace.data.reading;
  return (
    <>
      {reading && (
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
        </>
      )}
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
        {reading && (
          <a className="link" href={`/api/pulls/${pull.id}/trace.csv`} download>
            The trace as text
          </a>
        )}
        <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "Only this pull" : "All pulls of its set"}
        </button>
      </p>
      {all && <SetTraces treatmentId={treatmentId} />}
    </>
  );
}

/** What the load over the displacement says: stiffness, where the bend begins to stay, the work, what stayed. */
export function Bending({ bending }: { bending: NonNullable<Schemas["TraceView"]["bending"]> }) {
  const { force, length, stiffness, work, show } = useUnits();
  const said = [
    bending.stiffness_n_per_mm !== null
      ? `stiffness ${show(bending.stiffness_n_per_mm, stiffness)}`
      : "too few readings between 20 and 50 % of the peak for a stiffness",
    bending.bend_starts_n !== null &&
      `stays bent from ${show(bending.bend_starts_n, force)} (5 % off its line)`,
    bending.bend_starts_by_span_n !== null &&
      `from ${show(bending.bend_starts_by_span_n, force)} by 0.2 % of the span`,
    bending.energy_j !== null && `work to the peak ${show(bending.energy_j, work)}`,
    bending.stayed_bent_mm !== null && `${show(bending.stayed_bent_mm, length, 2)} stayed`,
  ].filter(Boolean);
  return <p>{said.join("; ")}.</p>;
}
