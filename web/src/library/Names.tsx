// Names that could be one thing, and tables that could be one: asked, decided by a person, and taken back.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { callThing, forgetCall, joinTables, partTables } from "./queries";

type Table = Schemas["BookTable"];

/** Names that are nearly one: a person says whether they are. */
export function AskAlike({ table }: { table: Table }) {
  const act = useAct();
  const call = (name: string, called: string) =>
    void act.run(() => callThing({ subject: table.subject, name, called }));
  if (table.alike.length === 0) return null;
  return (
    <section className="border-l-4 border-layout pl-3" aria-label="One thing, or two?">
      {table.alike.map((one) => (
        <div key={one.words} className="mb-2">
          <p>{one.words}</p>
          <div className="mt-1 flex flex-wrap gap-2">
            <button type="button" className="press press-plain" onClick={() => call(one.name, one.called)}>
              One: call it {one.called}
            </button>
            <button type="button" className="press press-plain" onClick={() => call(one.name, one.name)}>
              Two
            </button>
          </div>
        </div>
      ))}
      <Trouble problem={act.problem} />
    </section>
  );
}

export function Names({ table }: { table: Table }) {
  const act = useAct();
  const { subject } = table;
  const names = table.rows.map((row) => row.name);
  return (
    <details className="border-t rule pt-3" open={table.calls.length + table.joined.length > 0}>
      <summary className="link inline-flex min-h-6 items-center">Names and tables</summary>
      <Rename
        names={names}
        trials={table.trials}
        onCall={(body) => act.run(() => callThing({ subject, ...body }))}
      />
      {table.calls.map((one) => (
        <p key={one.id} className="mt-2">
          “{one.name}”{one.question && ` of “${one.question}”`} is{" "}
          {one.own ? "a thing of its own" : `called ${one.called}`}.{" "}
          <button type="button" className="link" onClick={() => void act.run(() => forgetCall(one.id))}>
            {one.own ? "Ask again" : "Its own name again"}
          </button>
        </p>
      ))}
      {table.could_join.map((words) => (
        <p key={words} className="mt-2">
          <button
            type="button"
            className="link text-left"
            onClick={() => void act.run(() => joinTables({ subject, place: table.place, with_place: words }))}
          >
            Let “{words}” stand in this table too
          </button>
        </p>
      ))}
      {table.joined.map((one) => (
        <p key={one.id} className="mt-2">
          {one.words}{" "}
          <button type="button" className="link" onClick={() => void act.run(() => partTables(one.id))}>
            Part them
          </button>
        </p>
      ))}
      <Trouble problem={act.problem} />
    </details>
  );
}

interface RenameProps {
  names: readonly string[];
  trials: readonly Schemas["BookTrial"][];
  onCall: (body: { name: string; called: string; trial_id: number | null }) => Promise<boolean>;
}

/** One name of two things, or two names of one: what a thing is called in all trials, or in one of them. */
function Rename({ names, trials, onCall }: RenameProps) {
  const [name, setName] = useState("");
  const [called, setCalled] = useState("");
  const [trial, setTrial] = useState("");
  const keep = async () => {
    if (await onCall({ name, called, trial_id: trial ? Number(trial) : null })) {
      setName("");
      setCalled("");
    }
  };
  return (
    <form
      className="mt-2 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <Pick
        label="Call"
        value={name}
        options={[["", "choose a name"], ...names.map((one) => [one, one] as const)]}
        onChange={setName}
      />
      <label>
        <span className="label block">otherwise: the name that it has in the book</span>
        <input className="entry" value={called} onChange={(event) => setCalled(event.target.value)} />
      </label>
      <Pick
        label="in"
        value={trial}
        options={[["", "all trials"], ...trials.map((one) => [String(one.id), one.question] as const)]}
        onChange={setTrial}
      />
      <button type="submit" className="press press-plain" disabled={!name || !called.trim()}>
        Call it so
      </button>
    </form>
  );
}
