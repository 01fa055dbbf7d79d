// What else the breaks say: each answer with its table and how it is known. Nothing is computed here.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { WeakEndFigure } from "../charts/WeakEndFigure";
import { convert, digits, type Shown } from "../ui/format";
import { Pick } from "../ui/Pick";
import { HowWeKnow } from "./HowWeKnow";
import type { Wishes } from "./queries";

type View = Schemas["FindingsView"];

interface Props {
  view: View;
  kind: string;
  /** What results are read in. */
  unit: Shown;
  wishes: Wishes;
  onWish: (wishes: Wishes) => void;
}

export function Findings({ view, kind, unit, wishes, onWish }: Props) {
  const line = (
    <Wish
      label="Count the pieces above a strength, with its unit"
      value={wishes.line}
      problem={view.problems.line}
      onWish={(text) => onWish({ ...wishes, line: text })}
    />
  );
  const base = view.bases.length > 0 && (
    <div className="mt-2 max-w-[34rem]">
      <Pick
        label="Shares of the strength at"
        value={view.base}
        options={[
          ...(view.base ? [] : [["", "choose what shares are of"] as const]),
          ...view.bases.map((one) => [one, one] as const),
        ]}
        onChange={(chosen) => onWish({ ...wishes, base: chosen })}
      />
    </div>
  );
  return (
    <>
      {view.findings.map((one) => (
        <section key={one.key} className="mt-6" aria-label={one.title}>
          <h3 className="border-b rule pb-1 text-lg">{one.title}</h3>
          {one.said.map((words) => (
            <p key={words} className="mt-1">
              {words}
            </p>
          ))}
          {one.key === "above" && line}
          {one.key === "retention" && base}
          {one.key === "composite" && (
            <Wish
              label={`Weights, e.g. ${view.conditions[0]} 2, ${view.conditions[1]} 1`}
              value={wishes.weights}
              problem={view.problems.weights}
              onWish={(weights) => onWish({ ...wishes, weights })}
            />
          )}
          {one.key === "weibull" && view.weak_end && <WeakEndFigure chart={view.weak_end} unit={unit} />}
          <FindingTable one={one} unit={unit} />
          <HowWeKnow how={one.how} of={one.title} />
        </section>
      ))}
      {view.findings.every((one) => one.key !== "retention") && base && (
        <section className="mt-6" aria-label="Shares of a strength">
          {base}
        </section>
      )}
      {view.findings.length > 0 &&
        view.findings.every((one) => one.key !== "above") &&
        !["moment", "load", "stiffness", "work"].includes(kind) && (
          <section className="mt-6" aria-label="A strength to count from">
            {line}
          </section>
        )}
    </>
  );
}

function FindingTable({ one, unit }: { one: Schemas["Finding"]; unit: Shown }) {
  const [all, setAll] = useState(false);
  const rows = all ? one.rows : one.rows.slice(0, MOST_ROWS);
  if (one.rows.length === 0) return null;
  const isStrength = one.rows.some((row) => row.some((cell) => typeof cell === "number"));
  const show = (cell: string | number | null) =>
    cell === null ? "–" : typeof cell === "number" ? digits(convert(cell, unit)) : cell;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
    <section className="overflow-x-auto" aria-label={`${one.title}, in numbers`} tabIndex={0}>
      <table className="plain dense mt-2">
        <caption className="sr-only">{one.title}</caption>
        <thead>
          <tr>
            {one.columns.map((column, place) => (
              <th key={column}>
                {column}
                {place === 0 && isStrength && <span className="pencil"> ({unit.symbol})</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, line) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a row has no other name
            <tr key={line}>
              {row.map((cell, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell has no other name
                <td key={place} className={place === 0 ? "head" : ""}>
                  {show(cell)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {one.rows.length > MOST_ROWS && (
        <button type="button" className="link min-h-6 text-sm" onClick={() => setAll(!all)}>
          {all ? "Fewer rows" : `All ${one.rows.length} rows`}
        </button>
      )}
    </section>
  );
}

/** A screen holds so many rows; the others are a press away. */
const MOST_ROWS = 12;

interface WishProps {
  label: string;
  value: string;
  problem: string | undefined;
  onWish: (text: string) => void;
}

/** A wish typed and taken with Enter. */
function Wish({ label, value, problem, onWish }: WishProps) {
  const [text, setText] = useState(value);
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onWish(text);
      }}
    >
      <label>
        <span className="label">{label}</span>
        <input
          className="entry"
          value={text}
          aria-invalid={problem !== undefined}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="submit" className="press press-plain">
        {text.trim() ? "Take it" : "As it was"}
      </button>
      {problem && (
        <p role="alert" className="w-full text-iron">
          {problem}
        </p>
      )}
    </form>
  );
}
