// The run sheet of a glue-up, worked with one big key: spread, close, into the clamp, next piece; the open time runs.
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { noteDeviation } from "../cure/queries";
import { SetUpDrawing } from "../drawings/SetUpDrawing";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { Field } from "../ui/Field";
import { digits, duration } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { ClampForce } from "./ClampForce";
import { editBatch, markStep, mixNow, useRunSheet } from "./queries";

type Sheet = Schemas["RunSheet"];
type RunPiece = Schemas["RunPiece"];
type Step = Schemas["GlueStep"];

const PRESS: Record<Step, string> = {
  coat: "First coat is on",
  spread: "Glue is spread on",
  closed: "Closed:",
  clamped: "In the clamp:",
};
const DONE: Record<Step, string> = {
  coat: "first coat on",
  spread: "glue on",
  closed: "closed",
  clamped: "in the clamp",
};
const SLIPS = ["slid", "clamped again", "squeezed dry", "dropped", "glue on the wrong face"];

export function RunSheet({ batchId, ownsKeys }: { batchId: number; ownsKeys: boolean }) {
  const { id } = useTrial();
  const act = useAct(id);
  const now = useNow();
  const sheet = useRunSheet(id, batchId);
  const [slipped, setSlipped] = useState<RunPiece | null>(null);
  const pieces = sheet.data?.pieces ?? [];
  const now_ = [...pieces].sort((a, b) => a.turn - b.turn).find((one) => one.next !== null);
  // a second press of the same step is a bounce; the next step can be pressed as soon as it is shown
  const sent = useRef("");
  const mark = async (step: Step, chosen: RunPiece[]) => {
    const done = await act.run(() =>
      markStep(
        id,
        chosen.map((one) => one.id),
        step,
      ),
    );
    if (!done) sent.current = "";
  };
  const shown = now_?.next ? `${now_.id} ${now_.next}` : "";
  // biome-ignore lint/correctness/useExhaustiveDependencies: another step on the screen, by a press or by undo, can be pressed
  useEffect(() => {
    sent.current = "";
  }, [shown]);
  const press = () => {
    if (!now_?.next || shown === sent.current) return;
    sent.current = shown;
    void mark(now_.next, [now_]);
  };
  useKeys(
    ownsKeys && now_?.next
      ? {
          " ": { words: `${DONE[now_.next]}: ${now_.label}`, press },
          Enter: { words: `${DONE[now_.next]}: ${now_.label}`, press },
        }
      : {},
  );
  if (!sheet.data) return null;
  const { data } = sheet;
  const all = now_?.next ? pieces.filter((one) => one.next === now_.next) : [];
  return (
    <div className="mt-3">
      <LayOut sheet={data} now={now} />
      {now_?.next && (
        <div className="mt-4 grid items-center gap-4 md:grid-cols-[1fr_18rem]">
          <div>
            <p className="label">{now_.treatment}</p>
            <p className="mono text-6xl leading-none font-semibold">{now_.label}</p>
            {(now_.next === "spread" || now_.next === "coat") && (
              <p className="mt-2 text-lg">
                {now_.spread || "one coat"}, {data.faces}
              </p>
            )}
            <SoakClock piece={now_} now={now} />
            <OpenClock piece={now_} sheet={data} now={now} />
          </div>
          {data.set_up && <SetUpDrawing setUp={data.set_up} dummies={data.set_up.dummies} />}
        </div>
      )}
      {now_?.next && (
        <div className="mt-3 flex flex-wrap gap-3">
          <button type="button" className="press press-main press-on grow text-2xl" onClick={press}>
            {PRESS[now_.next]} {now_.label}
            {ownsKeys && <span className="block text-sm font-normal">Space or Enter</span>}
          </button>
          {all.length > 1 && (
            <button
              type="button"
              className="press press-plain"
              disabled={act.busy}
              onClick={() => now_.next && void mark(now_.next, all)}
            >
              all {all.length} at once
            </button>
          )}
        </div>
      )}
      {!slipped && <Trouble problem={act.problem} />}
      <ClampForce pieces={pieces} />
      <ul className="mt-3 flex flex-wrap gap-2" aria-label="Pieces of the glue-up">
        {pieces.map((one) => (
          <li
            key={one.id}
            className={`flex min-h-[44px] items-center gap-2 border-2 px-2 ${one.id === now_?.id ? "border-layout bg-layout-pale" : one.done.includes("clamped") ? "border-amber" : "border-dashed rule"}`}
          >
            <span className="mono text-lg font-semibold">{one.label}</span>
            <span className="text-sm">{one.done.length ? DONE[one.done.at(-1) ?? "spread"] : "waits"}</span>
            {one.late && one.open_s != null && (
              <strong className="text-sm text-iron">open {duration(one.open_s)}</strong>
            )}
            <button type="button" className="link text-sm" onClick={() => setSlipped(one)}>
              {one.deviation || "went otherwise …"}
            </button>
          </li>
        ))}
      </ul>
      {slipped && (
        <Ask
          title={`What went otherwise with ${slipped.label}`}
          label="It stays in the trial, and the result says so"
          suggestions={SLIPS}
          press="Note it"
          start={slipped.deviation}
          allowEmpty
          onClose={() => {
            act.clear();
            setSlipped(null);
          }}
          problem={act.problem}
          onAnswer={(words) => act.run(() => noteDeviation(id, slipped.id, slipped.deviation, words))}
        />
      )}
    </div>
  );
}

/** How long the glue on a piece has lain open, against what its glue allows. */
function OpenClock({ piece, sheet, now }: { piece: RunPiece; sheet: Sheet; now: number }) {
  if (!piece.spread_utc || piece.closed_utc) {
    const wait = piece.next === "spread" ? piece.waits_s[0] : undefined;
    return wait === undefined ? null : (
      <p className="mt-1">wait {duration(wait)} between the coats before you press</p>
    );
  }
  const open = (now - Date.parse(piece.spread_utc)) / 1000;
  const allowed = sheet.open_time_s;
  const over = piece.open_until_utc !== null && now > Date.parse(piece.open_until_utc);
  return (
    <div className="mt-2" role="timer" aria-label="Open time">
      <p className={`text-xl font-semibold ${over ? "text-iron" : ""}`}>
        open {duration(Math.max(0, open))}
        {allowed !== null && ` of ${duration(allowed)}`}
        {over ? ": close it, and it is marked" : ""}
      </p>
      {allowed !== null && (
        <div className="mt-1 h-[14px] bg-plaster">
          <div
            className={`h-full ${over ? "bg-iron" : "bg-amber"}`}
            style={{ width: `${Math.max(0, Math.min(100, 100 * (1 - open / allowed)))}%` }}
          />
        </div>
      )}
    </div>
  );
}

/** How long the last coat still has to soak in; spreading sooner is possible, and is marked. */
function SoakClock({ piece, now }: { piece: RunPiece; now: number }) {
  if (piece.coat_due_utc === null || piece.spread_utc) return null;
  const left = (Date.parse(piece.coat_due_utc) - now) / 1000;
  return (
    <p className="mt-2 text-xl font-semibold" role="timer" aria-label="The coat soaks in">
      {left > 0 ? `soaks in for ${duration(left)} more` : "has soaked in: spread it now"}
    </p>
  );
}

function LayOut({ sheet, now }: { sheet: Sheet; now: number }) {
  const { id } = useTrial();
  const act = useAct(id);
  const { show, force } = useUnits();
  const edit = (field: string) => (was: string, text: string) =>
    editBatch(id, sheet.batch_id, field, was, text).then(() => act.run(async () => undefined));
  const pot =
    sheet.mixed_utc && sheet.pot_life_s !== null
      ? sheet.pot_life_s - (now - Date.parse(sheet.mixed_utc)) / 1000
      : null;
  return (
    <details open={sheet.pieces.every((one) => one.done.length === 0)} className="border-l-2 rule pl-3">
      <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
        Lay out and mix
        {sheet.mass_g !== null && `: ${digits(sheet.mass_g, 2)} g of ${sheet.glue}`}
        {pot !== null && (
          <strong className={pot < 0 ? "text-iron" : ""}>
            {pot < 0 ? ` · pot life over by ${duration(-pot)}` : ` · pot life ${duration(pot)}`}
          </strong>
        )}
      </summary>
      <ul className="mt-1 list-disc pl-5">
        {sheet.lay_out.map((words) => (
          <li key={words}>{words}</li>
        ))}
        {sheet.set_up && <li>{show(sheet.set_up.force_n, force)} on each piece</li>}
      </ul>
      {sheet.mix && (
        <div className="mt-2">
          <p className="text-lg">
            Weigh <strong className="mono">{sheet.mix.first_g} g</strong> of the first and{" "}
            <strong className="mono">{sheet.mix.second_g} g</strong> of the second
            {sheet.mix.off_pct > 1 && ` (${digits(sheet.mix.off_pct, 2)} % off the ratio: mix more)`}.
          </p>
          {!sheet.mixed_utc && (
            <button
              type="button"
              className="press mt-1"
              onClick={() => void act.run(() => mixNow(id, sheet.batch_id))}
            >
              It is mixed now
            </button>
          )}
        </div>
      )}
      <div className="mt-2 grid grid-cols-2 gap-4">
        <Field label="Who glues" bare value={sheet.who} onSave={edit("who")} />
        <Field
          label="Glue spread, weighed"
          bare
          value={sheet.spread_typed}
          placeholder="g"
          onSave={edit("spread")}
        />
      </div>
      {sheet.minds.map((words) => (
        <p key={words} className="mt-1">
          {words}
        </p>
      ))}
      <p className="mt-1 text-sm">{sheet.caution}</p>
      <Trouble problem={act.problem} />
    </details>
  );
}
