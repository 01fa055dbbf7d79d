// The trace of a break that is kept, and where its load is read; it can still be read elsewhere, with a reason.
import { useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { LiveTrace } from "../charts/LiveTrace";
import { useUnits } from "../shop/useUnits";
import { LoadPoint } from "./LoadPoint";
import { useTrace } from "./queries";

export function KeptTrace({ pull }: { pull: Schemas["PullView"] }) {
  const { force } = useUnits();
  const trace = useTrace(pull.id);
  const [pointed, setPointed] = useState<number | null>(null);
  const points = trace.data?.points;
  const feed = useMemo(
    () => ({ times: (points ?? []).map(([t]) => t), loads: (points ?? []).map(([, load]) => load) }),
    [points],
  );
  const reading = trace.data?.reading;
  if (!reading) return null;
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
    </>
  );
}
