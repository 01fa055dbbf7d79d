// The shop's book: one table of glues (joints, preps) over all trials, what it does not know, and what to test next.
import { Fragment, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useOpenShop } from "../app/shopContext";
import { Pick } from "../ui/Pick";
import { Ladder } from "./Ladder";
import { AskAlike, Names } from "./Names";
import { NextTests } from "./NextTests";
import { type Opened, useBook, useBookPair, useUses } from "./queries";

export function BookPage() {
  const [search, setSearch] = useSearchParams();
  const openShop = useOpenShop();
  const opened: Opened = {
    subject: search.get("of") ?? "",
    place: search.get("where") ?? "",
    against: search.get("against") ?? "",
  };
  const book = useBook(opened);
  const open = (subject: string, place: string, against = "") =>
    setSearch({ of: subject, where: place, ...(against ? { against } : {}) }, { replace: true });
  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-graphite px-4 py-3">
        <h1 className="text-3xl">The book</h1>
        <p className="pencil grow">All trials of this shop in one place</p>
        <Link to="/" className="head text-layout">
          Today
        </Link>
        <button type="button" className="press px-3" onClick={openShop}>
          Shop
        </button>
      </header>
      {book.isError && (
        <main className="p-6">
          <p>{book.error.message}</p>
          <button type="button" className="press mt-3" onClick={() => setSearch({}, { replace: true })}>
            Open the book from its first table
          </button>
        </main>
      )}
      {book.isPending && (
        <p role="status" className="pencil p-6">
          Reading every trial of this shop. The first time after a start that takes some seconds where there
          are hundreds.
        </p>
      )}
      {!book.isError && book.data && <Pages book={book.data} onOpen={open} />}
    </div>
  );
}

interface PagesProps {
  book: Schemas["BookView"];
  onOpen: (subject: string, place: string, against?: string) => void;
}

/** So many pairs that never met are counted, and listed on demand. */
const MANY = 6;

function Pages({ book, onOpen }: PagesProps) {
  const { table, tables } = book;
  if (!table)
    return (
      <main className="mx-auto max-w-2xl px-5 pt-16">
        <h2 className="text-2xl">Nothing to join yet</h2>
        <p className="mt-3">
          Break a trial that compares two glues, joints or preps, and it opens a table here. A second trial
          that shares one of them joins it. Practice trials stay out.
        </p>
        <p className="mt-3">
          Breaks of earlier years count too:{" "}
          <Link className="link" to="/bring-in">
            bring in a table of them
          </Link>
          .
        </p>
      </main>
    );
  return (
    <div className="grid flex-1 grid-cols-[12rem_1fr] lg:grid-cols-[15rem_1fr_18.5rem]">
      <nav aria-label="Tables" className="px-3 py-4">
        <h2 className="text-base">Tables</h2>
        <ul className="mt-2">
          {tables.map((one) => {
            const on = one.subject === table.subject && one.place === table.place;
            return (
              <li key={`${one.subject} ${one.place}`}>
                <button
                  type="button"
                  aria-current={on ? "page" : undefined}
                  className={`min-h-[44px] w-full border-l-4 px-2 py-2 text-left ${on ? "border-layout bg-layout-pale" : "border-transparent hover:border-rule"}`}
                  onClick={() => onOpen(one.subject, one.place)}
                >
                  <span className="head block">{one.subject}</span>
                  {one.alone && <span className="block text-sm">“{one.alone}”</span>}
                  <span className="block text-sm">{one.place}</span>
                  <span className="pencil block text-sm">
                    {one.things} in {one.trials} {one.trials === 1 ? "trial" : "trials"}, {one.pieces} pieces
                  </span>
                </button>
              </li>
            );
          })}
        </ul>
      </nav>
      <main className="min-w-0 border-l rule bg-sheet px-5 py-4">
        <OneTable key={`${table.subject} ${table.place}`} table={table} onOpen={onOpen} />
      </main>
      <aside
        aria-label="So what"
        className="col-span-2 border-t rule px-4 py-4 lg:col-span-1 lg:border-t-0 lg:border-l"
      >
        <h2 className="mb-2 text-base">So what</h2>
        <div className="grid gap-4 text-[0.97rem]">
          <AskAlike table={table} />
          <Said title="" words={[table.between, ...table.routes]} />
          <Said title="What never met" words={table.never} />
          {table.never_pairs.length > MANY && (
            <details>
              <summary className="link inline-flex min-h-6 items-center">Which never met</summary>
              <p className="mt-1 text-sm">{table.never_pairs.join("; ")}</p>
            </details>
          )}
          <Said title="Bounds, beside the table" words={table.sided} />
          <NextTests tests={table.next} />
          <Said title="Mind" words={table.mind} />
          <Names table={table} />
        </div>
      </aside>
    </div>
  );
}

function OneTable({ table, onOpen }: { table: Schemas["BookTable"]; onOpen: PagesProps["onOpen"] }) {
  const [pair, setPair] = useState<[string, string]>(["", ""]);
  const choose = (name: string) =>
    setPair(([a, b]) => (a === name ? [b, ""] : b === name ? [a, ""] : a === "" ? [name, ""] : [a, name]));
  const names = table.rows.map((row) => [row.name, row.name] as const);
  return (
    <>
      <p className="label">
        {table.subject}: {table.place}
      </p>
      {table.headline.map((one) => (
        <h2 key={one} className="mt-1 text-2xl leading-snug">
          {one}
        </h2>
      ))}
      {table.rows.length > 0 && (
        <div className="mt-4">
          <Ladder rows={table.rows} against={table.against} chosen={pair} onChoose={choose} />
          <p className="pencil mt-1 text-sm">
            The line is the likely range, the bar the estimate, a ring one trial that has both.
          </p>
          <div className="mt-3 flex flex-wrap items-end gap-3">
            <Pick
              label="Hold all against"
              value={table.against}
              options={names}
              onChange={(name) => onOpen(table.subject, table.place, name)}
            />
            <Pick
              label="Ask about"
              value={pair[0]}
              options={[["", "choose one"], ...names]}
              onChange={(name) => setPair([name, pair[1]])}
            />
            <Pick
              label="against"
              value={pair[1]}
              options={[["", "choose one"], ...names]}
              onChange={(name) => setPair([pair[0], name])}
            />
          </div>
          <AskedPair table={table} pair={pair} />
        </div>
      )}
      {table.order.length > 0 && (
        <section className="mt-5" aria-label="Which order is known">
          <h3 className="text-xl">Which order is known</h3>
          {table.order.map((one) => (
            <p key={one} className="mt-1">
              {one}
            </p>
          ))}
        </section>
      )}
      {table.conditions.map((one) => (
        <Conditions key={one.after} one={one} />
      ))}
      {table.subject === "glue" && <ByUse />}
      <section className="mt-5" aria-label="Its trials">
        <h3 className="text-xl">Its trials</h3>
        <ul className="mt-1">
          {table.trials.map((one) => (
            <li key={`${one.id} ${one.place}`} className="border-b rule py-2">
              <Link className="link" to={`/trials/${one.id}/compare`}>
                {one.question}
              </Link>{" "}
              <span className="pencil text-sm">
                {days(one)}, {one.pieces} pieces{one.waiting > 0 ? `, ${one.waiting} to break` : ""}
                {one.woods.length > 0 ? `, ${one.woods.join(", ")}` : ""}
              </span>
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

const day = (iso: string) =>
  new Date(`${iso}T12:00:00Z`).toLocaleDateString(undefined, {
    day: "numeric",
    month: "short",
    year: "numeric",
  });

const days = (one: Schemas["BookTrial"]) =>
  one.first_day === ""
    ? "on days that nobody wrote down"
    : one.first_day === one.last_day
      ? day(one.first_day)
      : `${day(one.first_day)} to ${day(one.last_day)}`;

function AskedPair({
  table,
  pair: [a, b],
}: {
  table: Schemas["BookTable"];
  pair: readonly [string, string];
}) {
  const pair = useBookPair(table.subject, table.place, a, b);
  if (a === "" || b === "")
    return <p className="pencil mt-2 min-h-6 text-sm">Press two names to hear how they compare.</p>;
  if (a === b) return <p className="mt-2 min-h-6">That is one and the same.</p>;
  return (
    <div className="mt-2 min-h-6" role="status">
      <p className="font-semibold">{pair.data?.words ?? pair.error?.message ?? ""}</p>
      {pair.data?.trials.map((one) => (
        <p key={one.trial_id} className="text-sm">
          {a} is {Math.round(100 * one.ratio)} % of {b} in{" "}
          <Link className="link" to={`/trials/${one.trial_id}/compare`}>
            {one.question}
          </Link>
          {one.last_day && `, ${day(one.last_day)}`}
        </p>
      ))}
    </div>
  );
}

/** Which of yours for which use, on what evidence, and what is unknown. */
function ByUse() {
  const uses = useUses().data ?? [];
  if (uses.length === 0) return null;
  return (
    <section className="mt-5" aria-label="By use">
      <h3 className="text-xl">By use</h3>
      <dl className="mt-1 grid gap-x-4 gap-y-2 sm:grid-cols-[10rem_1fr]">
        {uses.map((one) => (
          <Fragment key={one.use}>
            <dt className="head">{one.use}</dt>
            <dd className={one.known ? "" : "pencil"}>
              {one.words}
              {one.evidence && <span className="pencil block text-sm">{one.evidence}</span>}
            </dd>
          </Fragment>
        ))}
      </dl>
      <p className="pencil mt-1 text-sm">
        Shop tests compare joints with each other; they approve nothing. Follow the makers' instructions.
      </p>
    </section>
  );
}

function Conditions({ one }: { one: Schemas["ConditionsView"] }) {
  return (
    <section className="mt-5" aria-label="Conditions from two trials">
      <h3 className="text-xl">
        From {one.before} to {one.after}
      </h3>
      {one.lines.map((line) => (
        <p key={line.name} className="mt-1">
          {line.words}
        </p>
      ))}
      <p className="mt-1">{one.plain}</p>
      <p className="pencil mt-1 text-sm">{one.why}</p>
    </section>
  );
}

function Said({ title, words }: { title: string; words: readonly string[] }) {
  const said = words.filter((one) => one !== "");
  if (said.length === 0) return null;
  return (
    <section className={title ? "border-t rule pt-3" : ""}>
      {title && <h3 className="text-base">{title}</h3>}
      {said.map((one) => (
        <p key={one} className="mt-1">
          {one}
        </p>
      ))}
    </section>
  );
}
