// What is understood of a table: one question at a time, then sentences; what is pointed at can be told otherwise.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Pick } from "../ui/Pick";
import type { Found, Said } from "./queries";

interface Props {
  found: Found;
  said: Said;
  pointed: string;
  onPoint: (key: string) => void;
  onSay: (change: Partial<Said>) => void;
  busy: boolean;
}

const ROLES = [
  ["set", "the set"],
  ["label", "the label"],
  ["load", "the load"],
  ["stress", "the stress"],
  ["piece", "a piece of each set"],
  ["torn", "torn wood"],
  ["date", "when it broke"],
  ["glued", "when it was glued"],
  ["board", "the board"],
  ["factor:", "something else that varies"],
  ["size:width", "the width"],
  ["size:overlap", "the overlap"],
  ["size:depth", "the depth"],
  ["size:span", "the span"],
  ["note", "a note"],
  ["summary:mean", "an average"],
  ["ignore", "not used"],
] as const;

const LAYOUTS = [
  ["tall", "a row is a piece"],
  ["wide", "a row is a set"],
  ["columns", "a column is a set"],
  ["matrix", "rows and columns vary"],
  ["none", "no pieces"],
] as const;

export function ReadingPane({ found, said, pointed, onPoint, onSay, busy }: Props) {
  const [question] = found.questions;
  return (
    <>
      {question && (
        <Question
          key={`${question.about} ${question.subject}`}
          question={question}
          number={found.questions.length}
          busy={busy}
          onAnswer={(choice) =>
            onSay({
              answers: [...said.answers, { about: question.about, subject: question.subject, choice }],
            })
          }
        />
      )}
      {pointed ? (
        <Pointed found={found} said={said} pointed={pointed} onSay={onSay} onLeave={() => onPoint("")} />
      ) : (
        <p className="pencil mt-3 text-sm">
          Press a column’s letter, a row’s number or a cell to say otherwise.
        </p>
      )}
      {found.tables.map((table) => (
        <section
          key={table.header}
          className="mt-3 border-t rule pt-2"
          aria-label={`Table at row ${table.header}`}
        >
          {table.sentences.map((words) => (
            <p key={words} className="mb-1">
              {words}
            </p>
          ))}
          <Pick
            label="Here"
            value={table.layout}
            options={LAYOUTS}
            onChange={(layout) =>
              onSay({
                layouts: [
                  ...said.layouts.filter((one) => one.key !== table.header),
                  { key: table.header, role: layout },
                ],
              })
            }
          />
        </section>
      ))}
      {found.tables.length === 0 && (
        <p className="mt-3">No table was recognised: no row of headings stands over numbers.</p>
      )}
      {found.refused.map((words) => (
        <p key={words} className="mt-2 border-l-4 border-pencil pl-3">
          No pieces: {words}.
        </p>
      ))}
    </>
  );
}

interface QuestionProps {
  question: Schemas["Question"];
  number: number;
  busy: boolean;
  onAnswer: (choice: string) => void;
}

function Question({ question, number, busy, onAnswer }: QuestionProps) {
  const [typed, setTyped] = useState("");
  return (
    <section
      className="border-l-4 border-amber bg-amber-pale px-3 py-2"
      aria-label="A question"
      aria-live="polite"
    >
      <p className="label">{number === 1 ? "One question" : `The first of ${number} questions`}</p>
      <p className="text-lg">{question.words}</p>
      <p className="pencil text-sm">{question.cells}</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {question.choices.map((choice) => (
          <button
            key={choice}
            type="button"
            className="press"
            disabled={busy}
            onClick={() => onAnswer(choice)}
          >
            {choice}
          </button>
        ))}
        {(question.choices.length === 0 || question.about === "colour") && (
          <form
            className="flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (typed.trim()) onAnswer(typed.trim());
            }}
          >
            <input
              className="entry w-36"
              value={typed}
              aria-label="Another answer"
              placeholder={question.about === "colour" ? "torn 25" : "50"}
              onChange={(event) => setTyped(event.target.value)}
            />
            <button type="submit" className="press" disabled={busy || !typed.trim()}>
              That
            </button>
          </form>
        )}
      </div>
    </section>
  );
}

interface PointedProps {
  found: Found;
  said: Said;
  pointed: string;
  onSay: (change: Partial<Said>) => void;
  onLeave: () => void;
}

function Pointed({ found, said, pointed, onSay, onLeave }: PointedProps) {
  const place = pointed.slice(pointed.lastIndexOf("!") + 1);
  const isColumn = /^[A-Z]+$/.test(place);
  const columns = found.tables.flatMap((table) => table.columns).filter((one) => one.key === pointed);
  const now = said.roles.find((one) => one.key === pointed)?.role ?? columns[0]?.role ?? "ignore";
  const tell = (role: string | null) =>
    onSay({
      roles: [...said.roles.filter((one) => one.key !== pointed), ...(role ? [{ key: pointed, role }] : [])],
    });
  const roles = ROLES.some(([role]) => role === now) ? ROLES : ([...ROLES, [now, now] as const] as const);
  return (
    <section className="mt-3 border-l-4 border-layout pl-3" aria-label="What is pointed at">
      {isColumn ? (
        <Pick
          label={`Column ${place}${columns[0]?.heading ? ` (“${columns[0].heading}”)` : ""} is`}
          value={now.startsWith("factor") ? "factor:" : now}
          options={roles}
          onChange={(role) => tell(role)}
        />
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          <span>
            {/^\d+$/.test(place) ? "Row" : "Cell"} {place}
          </span>
          {said.roles.some((one) => one.key === pointed) ? (
            <button type="button" className="press" onClick={() => tell(null)}>
              read it again
            </button>
          ) : (
            <button type="button" className="press" onClick={() => tell("ignore")}>
              is none of the pieces
            </button>
          )}
        </div>
      )}
      <button type="button" className="link mt-1" onClick={onLeave}>
        Leave it
      </button>
    </section>
  );
}
