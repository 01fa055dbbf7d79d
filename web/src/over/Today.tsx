// Today, above all trials: what is in clamps, what is ready, what comes; and how to begin.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useOpenShop } from "../app/shopContext";
import { isMuted, setMuted } from "../app/useAlarms";
import { PieceGlyph } from "../drawings/PieceGlyph";
import { takeClampsOff } from "../glue/queries";
import { StartTrial } from "../plan/StartTrial";
import { dayTime, duration, longDay, someLabels } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { findDemo, openDemo, removeTrial, restoreTrial, useToday } from "./queries";

export function Today() {
  const today = useToday();
  const openShop = useOpenShop();
  if (today.isError)
    return (
      <main className="p-8">
        <h1 className="text-2xl">Adhaero</h1>
        <p className="mt-2">{today.error.message}</p>
      </main>
    );
  if (!today.data) return <p className="p-6">Opening …</p>;
  const { trials, removed, demo } = today.data;
  const empty = trials.length === 0 && removed.length === 0;
  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-graphite px-4 py-3">
        <h1 className="text-3xl">Today</h1>
        <p className="pencil grow">
          {longDay(today.data.now_utc)}
          {demo ? ". The demo shop: made up, and thrown away when it stops." : ""}
        </p>
        <Link className="link" to="/book">
          The book
        </Link>
        <Link className="link" to="/scan">
          Read a label
        </Link>
        <MuteSwitch />
        <button type="button" className="press text-right" onClick={openShop}>
          Shop{" "}
          <span className="pencil font-normal">{`${today.data.glues} glues, ${today.data.rigs} ${today.data.rigs === 1 ? "rig" : "rigs"}`}</span>
        </button>
      </header>
      {empty ? (
        <EmptyShop demo={demo} />
      ) : (
        <div className="grid flex-1 grid-cols-[15rem_1fr] xl:grid-cols-[18.5rem_1fr_18.5rem]">
          <Trials today={today.data} />
          <main className="border-l rule bg-sheet px-5 py-4">
            <Clamps today={today.data} />
            <Ready today={today.data} />
            <Coming today={today.data} />
            {(today.data.clamps.length > 0 || today.data.coming.length > 0) && <CalendarLink />}
          </main>
          <SoWhat today={today.data} />
        </div>
      )}
    </div>
  );
}

function MuteSwitch() {
  const [muted, mute] = useState(isMuted);
  const flip = () => {
    setMuted(!muted);
    mute(!muted);
    if (muted && "Notification" in window && Notification.permission === "default")
      void Notification.requestPermission();
  };
  return (
    <button type="button" className="press press-plain" aria-pressed={muted} onClick={flip}>
      {muted ? "Sound off" : "Sound on"}
    </button>
  );
}

function EmptyShop({ demo }: { demo: boolean }) {
  const act = useAct();
  const [waiting, setWaiting] = useState(false);
  const open = () =>
    act.run(async () => {
      await openDemo();
      setWaiting(true);
      for (let turn = 0; turn < 240; turn += 1) {
        await new Promise((resolve) => setTimeout(resolve, 500));
        const demo = await findDemo();
        if (demo.ready) {
          window.location.assign(demo.url);
          return;
        }
      }
    });
  return (
    <main className="mx-auto grid w-full max-w-2xl flex-1 content-start gap-8 px-5 pt-16">
      <h2 className="text-4xl">An empty bench</h2>
      <p className="text-lg">
        A trial starts with a question. Glue up a few dozen pieces, break them, and Adhaero does the
        arithmetic, keeps the times and says what the breaks show, and what they do not.
      </p>
      <StartTrial big />
      <p>
        Or begin with what you have:{" "}
        <Link className="link" to="/bring-in">
          bring in a table of earlier breaks
        </Link>
        , a spreadsheet as it is.
      </p>
      {!demo && (
        <div className="border-t rule pt-6">
          <p>Or look at a finished trial first: paddle shafts, three glues, 46 breaks.</p>
          <button type="button" className="press mt-3" disabled={waiting} onClick={() => void open()}>
            {waiting ? "Breaking 46 pieces on the simulated rig …" : "Open the demo"}
          </button>
          <p className="pencil mt-2 text-sm">
            It opens beside this shop, on made-up data; this shop stays as it is.
          </p>
          <Trouble problem={act.problem} />
        </div>
      )}
    </main>
  );
}

function Trials({ today }: { today: Schemas["TodayView"] }) {
  const act = useAct();
  return (
    <section aria-label="Trials" className="px-4 py-4">
      <h2 className="border-b rule pb-1 text-base">Trials</h2>
      <ul>
        {today.trials.map((trial) => (
          <li key={trial.id} className="border-b rule py-2">
            <Link
              to={`/trials/${trial.id}/${trial.station}`}
              className="block min-h-[44px] hover:text-layout"
            >
              <span className="head leading-tight">{trial.question}</span>
              <span className="mt-1.5 grid grid-cols-6 gap-1">
                {trial.flow.map((station) => (
                  <span key={station.name} className="block h-[5px] bg-rule">
                    <span
                      className="block h-full bg-graphite"
                      style={{ width: `${station.of ? (100 * station.done) / station.of : 0}%` }}
                    />
                  </span>
                ))}
              </span>
              <span className="mt-1 block text-[0.95rem]">{trial.words}</span>
            </Link>
            <button
              type="button"
              className="link text-sm"
              onClick={() => act.run(() => removeTrial(trial.id))}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <StartTrial />
      <p className="mt-3">
        <Link className="link" to="/bring-in">
          Bring in a table of earlier breaks, or a trial of another shop
        </Link>
      </p>
      <Trouble problem={act.problem} />
      {today.removed.length > 0 && (
        <div className="mt-6">
          <h3 className="label">Removed</h3>
          {today.removed.map((trial) => (
            <p key={trial.id} className="text-sm">
              {trial.question}{" "}
              <button type="button" className="link" onClick={() => act.run(() => restoreTrial(trial.id))}>
                Put back
              </button>
            </p>
          ))}
        </div>
      )}
    </section>
  );
}

function Clamps({ today }: { today: Schemas["TodayView"] }) {
  const now = useNow();
  const act = useAct();
  const first = today.clamps[0];
  const off = (line: Schemas["ClampLine"]) =>
    void act.run(() => takeClampsOff(line.trial_id, line.piece_ids));
  const firstDue = first?.due_utc ? Date.parse(first.due_utc) <= now : false;
  useKeys(
    first && firstDue
      ? { Enter: { words: "take off the clamps that are due", press: () => off(first) } }
      : {},
  );
  return (
    <section className="mb-7">
      <h2 className="border-b rule pb-1 text-xl">In clamps</h2>
      {today.clamps.length === 0 && <p className="pencil py-3">Nothing is in clamps.</p>}
      {today.clamps.map((line) => (
        <ClampRow key={`${line.trial_id} ${line.piece_ids[0]}`} line={line} now={now} />
      ))}
      {first && (
        <div className="mt-4 flex flex-wrap gap-3">
          <button
            type="button"
            className={`press press-main grow ${firstDue ? "" : "press-on"}`}
            disabled={act.busy}
            onClick={() => off(first)}
          >
            Take off clamps {someLabels(first.labels)}
            <span className="block text-sm font-normal">
              {firstDue ? "Enter" : "before the time: the real time is recorded"}
            </span>
          </button>
        </div>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

export function ClampRow({ line, now }: { line: Schemas["ClampLine"]; now: number }) {
  const due = line.due_utc ? Date.parse(line.due_utc) : null;
  const closed = Date.parse(line.clamped_utc);
  const left = due === null ? null : (due - now) / 1000;
  const share = due === null || due <= closed ? 0 : Math.max(0, Math.min(1, (due - now) / (due - closed)));
  return (
    <div className="grid grid-cols-[9rem_1fr_6.5rem] items-center gap-4 border-b rule py-3">
      <span className="mono text-lg leading-tight font-semibold">{someLabels(line.labels)}</span>
      <span>
        <Link to={`/trials/${line.trial_id}/glue`} className="hover:text-layout">
          {line.words} · {line.question}
        </Link>
        <span className="mt-1 block h-[14px] bg-plaster">
          <span className="block h-full bg-amber" style={{ width: `${100 * share}%` }} />
        </span>
      </span>
      <span className={`text-right text-lg font-semibold ${left !== null && left < 0 ? "text-iron" : ""}`}>
        {left === null ? "no time" : left < 0 ? `${duration(left)} over` : duration(left)}
      </span>
    </div>
  );
}

const READY_SHOWN = 8;

function Ready({ today }: { today: Schemas["TodayView"] }) {
  return (
    <section className="mb-7">
      <h2 className="border-b rule pb-1 text-xl">Ready to break</h2>
      {today.ready.length === 0 && <p className="pencil py-3">Nothing is ready.</p>}
      {today.ready.map((line) => (
        <Link
          key={line.trial_id}
          to={`/trials/${line.trial_id}/break`}
          className="block border-b rule py-3 hover:text-layout"
        >
          <span>{line.question}</span>
          <span className="mt-2 flex flex-wrap items-end gap-3">
            {line.labels.slice(0, READY_SHOWN).map((label) => (
              <span key={label} className="w-[4.2rem] text-center">
                <svg viewBox="0 0 48 26" aria-hidden="true">
                  <PieceGlyph
                    piece={{
                      state: "ready",
                      solid: false,
                      wood_failure_pct: null,
                      excluded: false,
                      outcome: null,
                    }}
                  />
                </svg>
                <span className="mono">{label}</span>
              </span>
            ))}
            {line.labels.length > READY_SHOWN && <span>and {line.labels.length - READY_SHOWN} more</span>}
          </span>
        </Link>
      ))}
    </section>
  );
}

/** The same clocks in any calendar: a file, and an address that a calendar on this network can subscribe to. */
function CalendarLink() {
  return (
    <p className="mt-4 text-sm">
      <a className="link" href="/api/calendar.ics" download="adhaero.ics">
        Take it as a calendar file
      </a>{" "}
      with alarms, or subscribe to{" "}
      <span className="mono">{`${window.location.origin}/api/calendar.ics`}</span>
    </p>
  );
}

function Coming({ today }: { today: Schemas["TodayView"] }) {
  if (today.coming.length === 0) return null;
  return (
    <section>
      <h2 className="border-b rule pb-1 text-xl">Next</h2>
      {today.coming.map((event) => (
        <p key={event.at_utc + event.words} className="grid grid-cols-[9rem_1fr] gap-4 border-b rule py-2">
          <span className="pencil">{dayTime(event.at_utc)}</span>
          <span>{event.words}</span>
        </p>
      ))}
    </section>
  );
}

function SoWhat({ today }: { today: Schemas["TodayView"] }) {
  const now = useNow();
  const over = today.clamps.filter((line) => line.due_utc && Date.parse(line.due_utc) < now);
  return (
    <aside
      aria-label="So what"
      className="col-span-2 border-t rule px-4 py-4 xl:col-span-1 xl:border-t-0 xl:border-l"
    >
      <h2 className="mb-2 text-base">So what</h2>
      <div className="grid gap-3">
        {over.map((line) => (
          <p key={line.labels[0]}>
            <strong className="text-iron">
              {someLabels(line.labels)} are {duration((now - Date.parse(line.due_utc ?? "")) / 1000)} over.
            </strong>{" "}
            The real clamp time is recorded when they come off, and used.
          </p>
        ))}
        {over.length === 0 && today.clamps.length > 0 && <p>Nothing is late.</p>}
        {today.clamps.length === 0 && today.ready.length === 0 && (
          <p>No clock is running. The next step is yours.</p>
        )}
        {today.cautions.map((caution) => (
          <p key={caution} className="border-t rule pt-3 text-[0.95rem]">
            {caution}
          </p>
        ))}
      </div>
    </aside>
  );
}
