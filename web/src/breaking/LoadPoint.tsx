// Where on its trace the load of a pull is read: at the highest, at the first drop, or at a point; with a reason.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { Trouble } from "../ui/Trouble";
import { choosePoint } from "./queries";

interface Props {
  pull: Schemas["PullView"];
  reading: Schemas["TraceReading"];
  pointed_s: number | null;
}

const REASONS: Record<string, string[]> = {
  first_drop: ["it only slipped after the first drop", "the joint was open after the first drop"],
  point: ["the highest is a knock", "the fixture took the load after this"],
};

export function LoadPoint({ pull, reading, pointed_s }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const { show, force } = useUnits();
  const [asking, setAsking] = useState<"first_drop" | "point" | null>(null);
  const [first] = reading.drops;
  const set = (point: Schemas["LoadPoint"], reason: string) =>
    act.run(() => choosePoint(id, pull.id, { point, reason, at_s: point === "point" ? pointed_s : null }));
  const press = (point: string) => `press ${pull.load_point === point ? "press-on" : "press-plain"}`;
  return (
    <fieldset className="mt-1 flex flex-wrap items-center gap-2">
      <legend className="sr-only">Where the load is read</legend>
      <button
        type="button"
        aria-pressed={pull.load_point === "highest"}
        className={press("highest")}
        onClick={() => pull.load_point !== "highest" && void set("highest", "")}
      >
        the highest, {show(reading.peak_n, force)}
      </button>
      {first && first.from_n < 0.999 * reading.peak_n && (
        <button
          type="button"
          aria-pressed={pull.load_point === "first_drop"}
          className={press("first_drop")}
          onClick={() => setAsking("first_drop")}
        >
          the first drop, {show(first.from_n, force)}
        </button>
      )}
      <button
        type="button"
        aria-pressed={pull.load_point === "point"}
        className={press("point")}
        disabled={pointed_s === null}
        onClick={() => setAsking("point")}
      >
        {pointed_s === null ? "or press a point on the trace" : `the point at ${pointed_s.toFixed(1)} s`}
      </button>
      {pull.load_point_reason && <span className="pencil">{pull.load_point_reason}</span>}
      {asking && (
        <Ask
          title="Read the load elsewhere"
          label="Why the highest load does not count"
          suggestions={REASONS[asking] ?? []}
          press="Read it there"
          onClose={() => {
            act.clear();
            setAsking(null);
          }}
          problem={act.problem}
          onAnswer={(reason) => set(asking, reason)}
        />
      )}
      {!asking && <Trouble problem={act.problem} />}
    </fieldset>
  );
}
