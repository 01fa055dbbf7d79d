// What pieces go through before the test: put in, counted, taken out, with the real times beside the planned ones.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Field } from "../ui/Field";
import { dayTime, duration, someLabels } from "../ui/format";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { countCycle, noteExposure, putIn, setTestedAs, takeOut } from "./queries";

type Piece = Schemas["CuringPiece"];
type Exposure = Schemas["ExposureView"];

export function Exposures({ view }: { view: Schemas["CuringView"] }) {
  const groups = [
    ...Map.groupBy(
      view.pieces.filter(
        (piece) => piece.planned?.planned_s != null || piece.waits_for_exposure || piece.exposures.length,
      ),
      (piece) => piece.planned?.words ?? "not in the plan",
    ),
  ];
  if (groups.length === 0) return null;
  return (
    <section className="mb-6" aria-label="What they go through before the test">
      <h2 className="border-b rule pb-1 text-xl">What they go through before the test</h2>
      {groups.map(([words, pieces]) => (
        <Exposed key={words} words={words} pieces={pieces} view={view} />
      ))}
    </section>
  );
}

function Exposed({ words, pieces, view }: { words: string; pieces: Piece[]; view: Schemas["CuringView"] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const now = useNow(10_000);
  const exposure = pieces[0]?.planned;
  const [kind, setKind] = useState<Schemas["ExposureKind"]>(exposure?.kind ?? "other");
  const [note, setNote] = useState("");
  const ids = (chosen: Piece[]) => chosen.map((piece) => piece.id);
  const open = (piece: Piece): Exposure | undefined =>
    piece.exposures.find((exposure) => exposure.ended_utc === null);
  const waiting = pieces.filter((piece) => piece.waits_for_exposure);
  const inside = pieces.filter((piece) => open(piece));
  const out = pieces.filter((piece) => piece.exposures.length > 0 && !open(piece));
  const before = pieces.length - waiting.length - inside.length - out.length;
  const planned = exposure?.planned_s ? `${Math.round(exposure.planned_s)} s` : "";
  const states = Object.entries(view.states) as [Schemas["TestedAs"], string][];
  const state = pieces[0]?.tested_as ?? "";
  return (
    <div className="border-b rule py-3">
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <strong className="text-lg">{words}</strong>
        <span className="pencil text-sm">
          {pieces.length} pieces
          {exposure?.planned_s ? `, ${duration(exposure.planned_s)} by plan` : ""}
          {before > 0 ? `, ${before} not cured yet` : ""}
          {out.length > 0 ? `, ${out.length} out again` : ""}
        </span>
      </p>
      {waiting.length > 0 && (
        <div className="mt-2 grid items-end gap-3 xl:grid-cols-[10rem_1fr_auto]">
          <Pick
            label="They go"
            value={kind}
            options={Object.entries(view.kinds) as [Schemas["ExposureKind"], string][]}
            onChange={setKind}
          />
          <label>
            <span className="label block">Temperature of the water, weather</span>
            <input className="entry" value={note} onChange={(event) => setNote(event.target.value)} />
          </label>
          <button
            type="button"
            className="press press-on min-h-[56px]"
            disabled={act.busy}
            onClick={() => void act.run(() => putIn(id, ids(waiting), kind, planned, note))}
          >
            Put in {someLabels(waiting.map((piece) => piece.label))}
          </button>
        </div>
      )}
      {["oven", "freeze"].includes(kind) && (waiting.length > 0 || inside.length > 0) && (
        <p className="mt-2 border-l-2 border-iron pl-2 text-sm">
          Not in an oven or a freezer that is used for food: glue and wood give off vapour. Heat below the
          maker’s limit, never unattended.
        </p>
      )}
      {inside.length > 0 && (
        <Inside
          pieces={inside}
          exposure={open(inside[0] as Piece) as Exposure}
          now={now}
          busy={act.busy}
          onOut={() => void act.run(() => takeOut(id, ids(inside)))}
          onCycle={() => void act.run(() => countCycle(id, ids(inside)))}
        />
      )}
      {out.length > 0 && <Out pieces={out} />}
      <div className="mt-2 w-56">
        <Pick
          label="State at the test"
          value={state}
          options={states}
          onChange={(next) => void act.run(() => setTestedAs(id, ids(pieces), next))}
        />
      </div>
      <Trouble problem={act.problem} />
    </div>
  );
}

interface InsideProps {
  pieces: Piece[];
  exposure: Exposure;
  now: number;
  busy: boolean;
  onOut: () => void;
  onCycle: () => void;
}

function Inside({ pieces, exposure, now, busy, onOut, onCycle }: InsideProps) {
  const { id } = useTrial();
  const act = useAct(id);
  const left = exposure.due_utc ? (Date.parse(exposure.due_utc) - now) / 1000 : null;
  return (
    <div className="mt-2">
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span>
          {pieces.length} {exposure.words} since {dayTime(exposure.begun_utc)}
          {exposure.cycles > 0 && `, ${exposure.cycles} cycles`}
        </span>
        {left !== null && (
          <strong role="timer" className={`mono text-2xl ${left < 0 ? "text-iron" : ""}`}>
            {left < 0 ? `${duration(left)} over` : duration(left)}
          </strong>
        )}
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <button type="button" className="press press-on min-h-[56px] grow" disabled={busy} onClick={onOut}>
          Take out {someLabels(pieces.map((piece) => piece.label))}
        </button>
        {exposure.kind === "freeze" && (
          <button type="button" className="press min-h-[56px]" disabled={busy} onClick={onCycle}>
            One more cycle
          </button>
        )}
        <div className="min-w-56 grow">
          <Field
            label="Weather, water, what happened"
            bare
            value={exposure.note}
            onSave={async (was, text) => {
              await noteExposure(id, exposure.id, was, text);
              await act.run(async () => undefined);
            }}
            draftKey={`${id} exposure ${exposure.id}`}
          />
        </div>
      </div>
    </div>
  );
}

/** The real time beside the planned one. */
function Out({ pieces }: { pieces: Piece[] }) {
  const last = pieces.map((piece) => piece.exposures.at(-1) as Exposure);
  const lasted = last.map((one) => one.lasted_s ?? 0);
  const low = Math.min(...lasted);
  const high = Math.max(...lasted);
  const planned = last[0]?.planned_s;
  return (
    <p className="mt-2">
      {someLabels(pieces.map((piece) => piece.label))} out after{" "}
      <strong>{high - low < 60 ? duration(low) : `${duration(low)} to ${duration(high)}`}</strong>
      {planned ? <span className="pencil">, {duration(planned)} planned</span> : null}
      {last[0]?.note ? `; ${last[0].note}` : ""}
    </p>
  );
}
