// Glue: glue-ups made from chosen pieces, clamps on and off with the real times.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Photo } from "../app/Photo";
import { Station, useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { Field } from "../ui/Field";
import { clockTime, dayTime, duration, someLabels } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { When } from "../ui/When";
import { Air } from "./Air";
import { MovePiece } from "./MovePiece";
import { NewGlueUp } from "./NewGlueUp";
import {
  putClampsOn,
  restorePiece,
  sendBatchPhoto,
  swapPartners,
  takeClampsOff,
  useMaking,
  voidPiece,
  writeNote,
} from "./queries";
import { RunSheet } from "./RunSheet";

type Piece = Schemas["MakingPiece"];

export function GluePage() {
  const { id } = useTrial();
  const making = useMaking(id);
  if (!making.data) return <Station aside={null}>Opening …</Station>;
  const { pieces, batches } = making.data;
  const voids = pieces.filter((piece) => piece.state === "void");
  const owner = findKeyOwner(pieces);
  return (
    <Station aside={<GlueSoWhat making={making.data} />}>
      {batches
        .filter((batch) =>
          pieces.some(
            (piece) => piece.batch === batch.id && piece.released_utc === null && !piece.void_reason,
          ),
        )
        .map((batch) => (
          <GlueUp
            key={batch.id}
            batch={batch}
            pieces={pieces.filter((piece) => piece.batch === batch.id)}
            ownsKeys={batch.id === owner}
          />
        ))}
      <NewGlueUp making={making.data} />
      {voids.length > 0 && <Voids pieces={voids} />}
      <Finished batches={batches} pieces={pieces} />
      {batches.length > 0 && <Air making={making.data} />}
    </Station>
  );
}

/** The one glue-up that the big key works on: where glue still goes on, else where clamps come off first. */
function findKeyOwner(pieces: Piece[]): number | null {
  const alive = pieces.filter((piece) => piece.batch !== null && !piece.void_reason);
  const open = alive.filter((piece) => piece.clamped_utc === null);
  const clamped = alive
    .filter((piece) => piece.clamped_utc !== null && piece.released_utc === null)
    .sort((a, b) => (a.release_due_utc ?? "9").localeCompare(b.release_due_utc ?? "9"));
  const lying = open.find((piece) => piece.spread_utc !== null) ?? open[0];
  return (lying ?? clamped[0])?.batch ?? null;
}

interface GlueUpProps {
  batch: Schemas["Batch"];
  pieces: Piece[];
  ownsKeys: boolean;
}

function GlueUp({ batch, pieces, ownsKeys }: GlueUpProps) {
  const { id, select } = useTrial();
  const act = useAct(id);
  const now = useNow();
  const [voiding, setVoiding] = useState<Piece | null>(null);
  const [moving, setMoving] = useState<Piece | null>(null);
  const [at, setAt] = useState<string | null>(null);
  const standing = pieces.filter((piece) => !piece.void_reason).sort((a, b) => a.glue_turn - b.glue_turn);
  const open = standing.filter((piece) => piece.can.includes("clamp"));
  const clamped = standing
    .filter((piece) => piece.can.includes("release"))
    .sort((a, b) => (a.release_due_utc ?? "").localeCompare(b.release_due_utc ?? ""));
  const due = clamped[0]?.release_due_utc ?? null;
  const left = due ? (Date.parse(due) - now) / 1000 : null;
  const total = clamped[0]?.planned_clamp_s ?? null;
  const ids = (chosen: Piece[]) => chosen.map((piece) => piece.id);
  const run = async (turn: "on" | "off", chosen: Piece[]) => {
    if (await act.run(() => (turn === "on" ? putClampsOn : takeClampsOff)(id, ids(chosen), at)))
      setAt((now) => (now === at ? null : now));
  };
  const isDue = open.length === 0 && left !== null && left <= 0;
  const release = { words: "take off the clamps that are due", press: () => void run("off", clamped) };
  useKeys(ownsKeys && isDue && !act.busy ? { " ": release, Enter: release } : {});
  return (
    <section className="mb-6 border-b border-graphite pb-5" aria-label={`Glue-up ${batch.number}`}>
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="text-xl">
          Glue-up {batch.number}: {batch.glue}
        </h2>
        <span className="pencil text-sm">
          {batch.glue_family}
          {batch.glue_opened_on ? `, opened ${batch.glue_opened_on}` : ""}
          {batch.glue_lot ? `, lot ${batch.glue_lot}` : ""}
          {batch.glue_kept ? `, kept ${batch.glue_kept}` : ""}
          {batch.shop_temperature_typed ? `, ${batch.shop_temperature_typed}` : ""}
          {batch.humidity_typed ? `, humidity ${batch.humidity_typed}` : ""}
          {batch.wood_moisture_typed ? `, wood ${batch.wood_moisture_typed}` : ""}
        </span>
        <Photo
          photoId={batch.photo_id}
          name={`Glue-up ${batch.number}`}
          send={(file) => sendBatchPhoto(id, batch.id, file)}
        />
      </div>
      {open.length > 0 && <RunSheet batchId={batch.id} ownsKeys={ownsKeys} />}
      <details className="mt-3" open={open.length === 0}>
        <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
          Piece by piece: clamp on or off, what went wrong
        </summary>
        <ul className="mt-2 flex flex-wrap gap-2">
          {standing.map((piece) => (
            <li
              key={piece.id}
              className={`border-2 ${piece.clamped_utc ? "border-amber" : "border-dashed rule"} px-2`}
            >
              <button type="button" className="mono text-lg font-semibold" onClick={() => select(piece.id)}>
                {piece.label}
              </button>
              <span className="pencil ml-2 text-sm">{piece.treatment}</span>
              {piece.released_utc ? (
                <span className="ml-2 text-sm">off {clockTime(piece.released_utc)}</span>
              ) : (
                (piece.can.includes("clamp") || piece.can.includes("release")) && (
                  <button
                    type="button"
                    className="link ml-2 min-h-[44px] px-1.5 text-sm"
                    disabled={act.busy}
                    onClick={() => void run(piece.can.includes("release") ? "off" : "on", [piece])}
                  >
                    {piece.can.includes("release") ? "clamp off" : "clamp on"}
                  </button>
                )
              )}
              <span className="ml-2 inline-block w-40 align-middle">
                <Pick
                  label={`What went wrong with ${piece.label}`}
                  hideLabel
                  bare
                  value=""
                  options={[
                    ["", "went wrong …"],
                    ...(piece.can.includes("void") ? [["void", "lost: take it out"] as const] : []),
                    ...(piece.can.includes("change_treatment")
                      ? [["set", "it is of another set"] as const]
                      : []),
                    ...(piece.can.includes("swap_parts") ? standing : [])
                      .filter((one) => one.can.includes("swap_parts") && one.id !== piece.id)
                      .map((one) => [String(one.id), `has the part of ${one.label}`] as const),
                  ]}
                  onChange={(what) => {
                    if (what === "void") setVoiding(piece);
                    else if (what === "set") setMoving(piece);
                    else if (what) void act.run(() => swapPartners(id, piece.id, Number(what)));
                  }}
                />
              </span>
            </li>
          ))}
        </ul>
      </details>
      {clamped.length > 0 && (
        <div className="mt-4">
          <p className="flex items-baseline justify-between">
            <span>
              in clamps since {dayTime(clamped[0]?.clamped_utc ?? "")}
              {due ? `, due ${dayTime(due)}` : ", no clamp time planned"}
            </span>
            <span
              className={`mono text-4xl font-semibold ${left !== null && left < 0 ? "text-iron" : ""}`}
              role="timer"
            >
              {left === null ? "" : left < 0 ? `${duration(left)} over` : duration(left)}
            </span>
          </p>
          <div className="mt-1 h-[18px] bg-plaster">
            <div
              className="h-full bg-amber"
              style={{
                width: `${left !== null && total ? Math.max(0, Math.min(100, (100 * left) / total)) : 0}%`,
              }}
            />
          </div>
        </div>
      )}
      <div className="mt-3 flex flex-wrap gap-3">
        {open.length > 0 && (
          <button
            type="button"
            className="press grow"
            disabled={act.busy}
            onClick={() => void run("on", open)}
          >
            Clamps on {someLabels(open.map((piece) => piece.label))}
          </button>
        )}
        {clamped.length > 0 && (
          <button
            type="button"
            className={`press press-main grow ${left !== null && left <= 0 ? "press-on" : "!bg-sheet !text-layout"}`}
            disabled={act.busy}
            onClick={() => void run("off", clamped)}
          >
            Take off clamps {someLabels(clamped.map((piece) => piece.label))}
          </button>
        )}
      </div>
      <div className="mt-3 grid items-start gap-3 sm:grid-cols-[auto_1fr]">
        <When label="Clamps on or off" value={at} onChange={setAt} />
        <Field
          label="Note"
          bare
          value={batch.note}
          placeholder="What went otherwise than planned"
          onSave={(was, text) => writeNote(id, batch.id, was, text)}
          draftKey={`${id} batch ${batch.id}`}
        />
      </div>
      {!voiding && <Trouble problem={act.problem} />}
      {moving && <MovePiece piece={moving} onClose={() => setMoving(null)} />}
      {voiding && (
        <Ask
          title={`Take ${voiding.label} out of the trial`}
          label="Why it is never loaded"
          suggestions={["slid in the clamp", "dropped", "glued to the wrong part", "label lost"]}
          press="Void it"
          onClose={() => {
            act.clear();
            setVoiding(null);
          }}
          problem={act.problem}
          onAnswer={(reason) => act.run(() => voidPiece(id, voiding.id, reason))}
        />
      )}
    </section>
  );
}

function Voids({ pieces }: { pieces: Piece[] }) {
  const { id } = useTrial();
  const act = useAct(id);
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">Void, never loaded</h2>
      {pieces.map((piece) => (
        <p key={piece.id} className="flex items-center gap-3 border-b rule py-1">
          <span className="mono text-lg">{piece.label}</span>
          <span className="grow">{piece.void_reason}</span>
          <button
            type="button"
            className="link"
            onClick={() => void act.run(() => restorePiece(id, piece.id))}
          >
            Put back
          </button>
        </p>
      ))}
      <Trouble problem={act.problem} />
    </section>
  );
}

function Finished({ batches, pieces }: { batches: Schemas["Batch"][]; pieces: Piece[] }) {
  const done = batches.filter((batch) => {
    const mine = pieces.filter((piece) => piece.batch === batch.id && !piece.void_reason);
    return mine.every((piece) => piece.released_utc !== null);
  });
  if (done.length === 0) return null;
  return (
    <section className="mt-6">
      <h2 className="text-lg">Glue-ups out of the clamps</h2>
      <table className="plain mt-1">
        <thead>
          <tr>
            <th>glue-up</th>
            <th className="!text-left">pieces</th>
            <th>closed</th>
            <th>in clamps</th>
            <th>planned</th>
          </tr>
        </thead>
        <tbody>
          {done.map((batch) => {
            const mine = pieces.filter((piece) => piece.batch === batch.id && !piece.void_reason);
            const first = mine[0];
            return (
              <tr key={batch.id}>
                <td>
                  {batch.number} {batch.glue}
                </td>
                <td className="!text-left mono">{someLabels(mine.map((piece) => piece.label))}</td>
                <td>{first?.closed_utc ? dayTime(first.closed_utc) : "–"}</td>
                <td>{first?.clamped_s == null ? "–" : duration(first.clamped_s)}</td>
                <td className="pencil">
                  {first?.planned_clamp_s == null ? "–" : duration(first.planned_clamp_s)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** The way to the timetable, from where its glue-ups are done. */
function TimetableLink({ making }: { making: Schemas["MakingView"] }) {
  const timed = making.next_batch.map((one) => making.pieces.find((piece) => piece.id === one)?.label ?? "");
  return (
    <p>
      {timed.length > 0 && (
        <>
          Next by the timetable: <span className="mono">{someLabels(timed)}</span>.{" "}
        </>
      )}
      <Link className="link" to="../timetable">
        The timetable
      </Link>
    </p>
  );
}

function GlueSoWhat({ making }: { making: Schemas["MakingView"] }) {
  const { show, force } = useUnits();
  const now = useNow(10_000);
  const clamped = making.pieces.filter((piece) => piece.state === "clamped" && piece.release_due_utc);
  const next = clamped.map((piece) => Date.parse(piece.release_due_utc ?? "")).sort((a, b) => a - b)[0];
  const toGlue = making.pieces.filter((piece) => piece.can.includes("glue"));
  const forces = [...new Set(toGlue.map((piece) => piece.clamp_force_n).filter((f) => f !== null))];
  return (
    <>
      <TimetableLink making={making} />
      {next !== undefined && (
        <p>
          {next > now ? (
            <>
              The next clamps come off in <strong>{duration((next - now) / 1000)}</strong>.
            </>
          ) : (
            <strong className="text-iron">Clamps are due now.</strong>
          )}
        </p>
      )}
      <p>
        {toGlue.length} {toGlue.length === 1 ? "piece" : "pieces"} left to glue.
        {forces.length === 1
          ? ` Each takes ${show(forces[0], force)} of clamp force for the planned pressure.`
          : ""}
      </p>
      {making.balance && <p>{making.balance}</p>}
      {making.confounds.length > 0 && (
        <section>
          <h3 className="text-base text-iron">Moves together</h3>
          {making.confounds.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </section>
      )}
      {making.pieces.some((piece) => piece.state === "sawn" || piece.state === "clamped") && (
        <p className="border-t rule pt-3 text-sm">
          Clamps under load: fingers out of the gap, face out of line with the bar, weights stacked low and
          wide. Let them off slowly, one after the other.
        </p>
      )}
      {Object.entries(making.cautions).map(([glue, caution]) => (
        <p key={glue} className="border-t rule pt-3">
          <strong>{glue}.</strong> {caution}
        </p>
      ))}
    </>
  );
}
