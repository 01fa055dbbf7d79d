// The truth of a rig: known weights up and down with what is left over, the daily check, versions and calibrations.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";

import { dayTime, digits } from "../ui/format";
import { isFaulty, Trouble } from "../ui/Trouble";
import { calibrate, checkRig, useFit, useTruth } from "./queries";
import { Residuals } from "./Residuals";

type Point = Schemas["PointTyped"];

const EMPTY: Point = { weight: "", shown: "", rising: true };
const START: Point[] = [{ ...EMPTY, weight: "0" }, EMPTY, EMPTY, { ...EMPTY, rising: false }];

export function RigTruth({ rig }: { rig: Schemas["RigView"] }) {
  const truth = useTruth(rig.id).data;
  const act = useAct();
  const [points, setPoints] = useState<Point[] | null>(null);
  const [shown, setShown] = useState("");
  if (!truth) return null;
  const newest = truth.calibrations[0];
  const check = async () => {
    if (await act.run(() => checkRig(rig.id, shown))) setShown("");
  };
  return (
    <section
      className="my-3 grid gap-3 border-l-4 border-layout pl-3"
      aria-label={`The truth of ${rig.entry.name}`}
    >
      {newest && (
        <div>
          <p>
            Calibration of {dayTime(newest.made_utc)}: (shown − {Number(newest.offset.toPrecision(4))}) ×{" "}
            {Number(newest.factor.toPrecision(5))}, {newest.words}.
          </p>
          {newest.points.length > 0 && <Residuals points={newest.points} />}
        </div>
      )}
      {points ? (
        <Points rig={rig} points={points} onChange={setPoints} onDone={() => setPoints(null)} />
      ) : (
        <button type="button" className="press justify-self-start" onClick={() => setPoints(START)}>
          Calibrate by known weights
        </button>
      )}
      {rig.entry.check && (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            void check();
          }}
        >
          <label>
            <span className="label block">Under its check weight of {rig.entry.check} it shows</span>
            <input
              className="entry w-40"
              value={shown}
              autoComplete="off"
              aria-invalid={isFaulty(act.problem, "shown")}
              onChange={(event) => setShown(event.target.value)}
            />
          </label>
          <button type="submit" className="press" disabled={act.busy}>
            Write it down
          </button>
        </form>
      )}
      <Trouble problem={act.problem} />
      <ol className="text-sm">
        {truth.checks.slice(0, 5).map((one) => (
          <li key={one.at_utc} className={one.holds ? "" : "text-iron"}>
            {dayTime(one.at_utc)}: {one.words}
          </li>
        ))}
        {truth.versions.map((one) => (
          <li key={one.number}>
            {dayTime(one.from_utc)}: version {one.number}, {one.words}
          </li>
        ))}
        {truth.calibrations.slice(1).map((one) => (
          <li key={one.id}>
            {dayTime(one.made_utc)}: calibration × {digits(one.factor, 4)}, {one.words}
          </li>
        ))}
      </ol>
    </section>
  );
}

interface PointsProps {
  rig: Schemas["RigView"];
  points: Point[];
  onChange: (points: Point[]) => void;
  onDone: () => void;
}

function Points({ rig, points, onChange, onDone }: PointsProps) {
  const act = useAct();
  const full = points.filter((one) => one.weight.trim() && one.shown.trim());
  const fit = useFit(rig.id, full);
  const set = (at: number, change: Partial<Point>) =>
    onChange(points.map((one, index) => (index === at ? { ...one, ...change } : one)));
  const save = async () => {
    if (await act.run(() => calibrate(rig.id, full))) onDone();
  };
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <p className="pencil text-sm">
        Hang or press known weights, three or more with nothing among them: up, then down again.
      </p>
      {points.map((point, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a point is its place in the order of hanging
        <div key={at} className="grid grid-cols-[1fr_1fr_7rem] gap-2">
          <input
            className="entry"
            aria-label={`Weight ${at + 1}`}
            placeholder="known weight: 10 kg"
            value={point.weight}
            onChange={(event) => set(at, { weight: event.target.value })}
          />
          <input
            className="entry"
            aria-label={`It shows ${at + 1}`}
            placeholder={`it shows, ${rig.entry.gauge_unit || rig.entry.unit}`}
            value={point.shown}
            onChange={(event) => set(at, { shown: event.target.value })}
          />
          <button
            type="button"
            className="press press-plain px-1"
            onClick={() => set(at, { rising: !point.rising })}
          >
            {point.rising ? "going up" : "going down"}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link justify-self-start"
        onClick={() => onChange([...points, { ...EMPTY, rising: points.at(-1)?.rising ?? true }])}
      >
        one more weight
      </button>
      {fit.data && !fit.isError && full.length > 2 && (
        <div>
          <p role="status">
            (shown − {Number(fit.data.offset.toPrecision(4))}) × {Number(fit.data.factor.toPrecision(5))}:{" "}
            {fit.data.words}.
          </p>
          <Residuals points={fit.data.points} />
        </div>
      )}
      <Trouble problem={act.problem} />
      <div className="flex gap-3">
        <button type="submit" className="press press-on" disabled={act.busy || full.length < 3}>
          Calibrate: from now on
        </button>
        <button type="button" className="press press-plain" onClick={onDone}>
          Leave it
        </button>
      </div>
      <p className="pencil text-sm">
        Breaks keep the calibration they were made with; Break offers to compute them again, and keeps both
        numbers.
      </p>
    </form>
  );
}
