// The rig: the load now, big enough for two metres; zero and arm; the trace; what the trace says.
import { useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { LiveTrace, type TraceFeed } from "../charts/LiveTrace";
import { useUnits } from "../shop/useUnits";
import { convert, type Shown } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { Bending } from "./KeptTrace";
import { LoadPoint } from "./LoadPoint";
import { arm, stopPull, useTrace } from "./queries";
import { UnitDiffers } from "./UnitDiffers";
import type { Live } from "./useLive";

interface Props {
  rig: Schemas["RigView"];
  piece: Schemas["BreakPiece"];
  live: Live | null;
  feed: TraceFeed;
  version: number;
  pull: Schemas["PullView"] | undefined;
}

/** Decimals by the rig's resolution: no more digits than it reads. */
function loadText(load_n: number, unit: Shown, resolution_n: number): string {
  const step = resolution_n * unit.per_si;
  const places = Math.min(3, Math.max(0, Math.ceil(-Math.log10(step) - 1e-9)));
  const text = convert(load_n, unit).toFixed(places);
  return Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
}

export function RigPanel({ rig, piece, live, feed, version, pull }: Props) {
  const { id, rack } = useTrial();
  const act = useAct(id);
  const { force, length, strength, show } = useUnits();
  const running = pull?.state === "running";
  const stopped = pull?.state === "stopped" ? pull : undefined;
  const trace = useTrace(stopped?.id ?? null);
  const [pointed, setPointed] = useState<{ pull: number; at_s: number } | null>(null);
  const stored = useRef<TraceFeed>({ times: [], loads: [] });
  if (stopped && trace.data) {
    stored.current = {
      times: trace.data.points.map(([t]) => t),
      loads: trace.data.points.map(([, load]) => load),
    };
  }
  const isReady = piece.can.includes("load");
  const start = () => void act.run(() => arm(id, piece.id, rig.id));
  const stop = () => pull && void act.run(() => stopPull(id, pull.id));
  useKeys({
    " ": {
      words: running ? "stop the pull" : "zero and arm: the pull starts with your first stroke",
      press: () => {
        if (act.busy) return;
        if (running) stop();
        else if (isReady) start();
      },
    },
  });
  const shownLoad = stopped ? stopped.load_n : live?.load_n;
  const peak = stopped?.load_n ?? live?.pull?.peak_n ?? null;
  const peakMpa = stopped?.strength ?? live?.pull?.peak_mpa ?? null;
  const reading = trace.data?.reading;
  return (
    <section className="mt-3" aria-label="The rig">
      <div className="grid items-end gap-4 sm:grid-cols-[1fr_auto]">
        <div>
          <p className="label">
            {stopped
              ? stopped.load_point === "highest"
                ? "Peak of this pull"
                : "Load of this pull"
              : running
                ? "Load now"
                : "Load now, not recording"}
            {live?.practice && <strong className="ml-2 text-graphite">simulated rig</strong>}
          </p>
          <p
            className={`mono ${stopped ? "text-6xl" : "text-[5.2rem]"} leading-none font-semibold`}
            data-live-load={live?.lines ?? 0}
          >
            {shownLoad == null ? "–" : loadText(shownLoad, force, rig.resolution_n)}
            <span className="ml-3 text-4xl">{force.symbol}</span>
          </p>
        </div>
        <div className="text-right leading-7">
          {peak !== null && !stopped && (
            <p>
              peak{" "}
              <strong className="mono">
                {loadText(peak, force, rig.resolution_n)} {force.symbol}
              </strong>
            </p>
          )}
          {running && live?.pull?.first_drop_n != null && (
            <p className="text-2xl" role="status">
              first drop{" "}
              <strong className="mono">
                {loadText(live.pull.first_drop_n, force, rig.resolution_n)} {force.symbol}
              </strong>
            </p>
          )}
          {live?.moved_mm != null && !stopped && (
            <p>
              moved <strong className="mono">{show(live.moved_mm, length)}</strong>
            </p>
          )}
          {peakMpa !== null && (
            <p>
              strength <strong className="mono">{show(peakMpa, strength(rack.strength_kind))}</strong>
            </p>
          )}
          {stopped && reading?.rate_n_per_s != null && (
            <p className="pencil">
              {show(reading.rate_n_per_s, force)}/s, {reading.to_break_s?.toFixed(1)} s to the peak, a reading
              each {Number(reading.sampling_s.toPrecision(2))} s
            </p>
          )}
          {!(stopped && live?.state === "reading") && (
            <p className={live && live.state !== "reading" ? "text-iron" : "pencil"} role="status">
              {rig.entry.name} {live?.words ?? "connecting"}
            </p>
          )}
          {!stopped && (
            <p className="pencil">
              limit {show(rig.capacity_n, force)}, reads to {rig.entry.resolution}
            </p>
          )}
        </div>
      </div>
      {live?.trouble && (
        <p role="alert" className="border-l-4 border-iron bg-iron-pale px-3 py-2">
          {live.trouble}
        </p>
      )}
      {live?.unit_differs && live.unit_seen && !stopped && <UnitDiffers rig={rig} printed={live.unit_seen} />}
      <LiveTrace
        feed={stopped && trace.data ? stored.current : feed}
        version={stopped && trace.data ? -stopped.id : version}
        unit={force}
        peak={peak}
        height={stopped ? 115 : 200}
        mark_s={stopped && reading ? (stopped.load_point_s ?? reading.peak_s) : null}
        onPoint={stopped ? (at_s) => setPointed({ pull: stopped.id, at_s }) : undefined}
      />
      {stopped && (
        <div>
          {stopped.flags.map((flag) => (
            <p key={flag} className="border-l-4 border-pencil pl-3">
              {flag}
            </p>
          ))}
          {stopped.outcome === null && !stopped.codes.includes("soft") && (
            <p>No break was found: say below what happened, or try again.</p>
          )}
          {trace.data?.bending && <Bending bending={trace.data.bending} />}
          {reading && (
            <LoadPoint
              pull={stopped}
              reading={reading}
              pointed_s={pointed?.pull === stopped.id ? pointed.at_s : null}
            />
          )}
        </div>
      )}
      {!stopped && (
        <div className="mt-3 flex gap-3">
          {running ? (
            <button
              type="button"
              className="press press-main grow !bg-sheet !text-layout"
              disabled={act.busy}
              onClick={stop}
            >
              Recording: pump. Stop by hand
              <span className="block text-sm font-normal">
                Space. Waits for {live?.pull?.waits_for ?? "your pull"}
              </span>
            </button>
          ) : (
            <button
              type="button"
              className="press press-main press-on grow"
              disabled={act.busy || live?.state !== "reading" || live.unit_differs || !isReady}
              onClick={start}
            >
              {isReady ? "Zero and arm" : `${piece.label} is ${piece.words}`}
              <span className="block text-sm font-normal">Space, with nothing pulling</span>
            </button>
          )}
        </div>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}
