// The pairs that matter, and any other that is asked for.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Pick } from "../ui/Pick";
import { HowWeKnow } from "./HowWeKnow";
import { type Asked, usePair } from "./queries";

interface Props {
  id: number;
  asked: Asked;
  view: Schemas["CompareView"];
}

export function Pairs({ id, asked, view }: Props) {
  const how = view.how.pairs;
  const [all, setAll] = useState(false);
  if (view.pairs.length === 0) return null;
  const shown = all ? view.pairs : view.pairs.slice(0, MOST);
  return (
    <section className="mt-5" aria-label="Pairs of sets">
      <table className="plain dense">
        <caption className="sr-only">Pairs of sets</caption>
        <thead>
          <tr>
            <th>first against second</th>
            <th>differs by</th>
            <th>likely range</th>
            <th>the first is</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((pair) => (
            <tr key={pair.a + pair.b}>
              <td className="head">
                {pair.a} against {pair.b}
              </td>
              <td>{pair.differs || "–"}</td>
              <td className="whitespace-nowrap">{pair.range || "–"}</td>
              <td className={pair.verdict === "cannot_tell" ? "pencil" : "font-semibold"}>{pair.is_}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {view.pairs.length > MOST && (
        <button type="button" className="link mt-1 min-h-6 text-sm" onClick={() => setAll(!all)}>
          {all ? "Fewer pairs" : `${view.pairs.length - MOST} more: neighbours in rank`}
        </button>
      )}
      {view.pairs_in_all > view.pairs.length && <AskPair id={id} asked={asked} view={view} />}
      {how && <HowWeKnow how={how} of="the pairs" />}
    </section>
  );
}

const MOST = 8;

/** “… against …”: any pair of the slice. */
function AskPair({ id, asked, view }: Props) {
  const [a, setA] = useState("");
  const [b, setB] = useState("");
  const pair = usePair(id, asked, a, b);
  const levels = view.groups.map((one) => [one.level, one.level] as const);
  const options = [["", "choose a set"] as const, ...levels];
  return (
    <div className="mt-3">
      <div className="flex flex-wrap items-end gap-3">
        <Pick label="Ask about" value={a} options={options} onChange={setA} />
        <Pick label="against" value={b} options={options} onChange={setB} />
      </div>
      <p className="mt-2 min-h-6 font-semibold" role="status">
        {a !== "" && a === b ? "That is one set." : (pair.data?.words ?? pair.error?.message ?? "")}
      </p>
      <p className="pencil text-sm">
        {view.pairs.length} of {view.pairs_in_all} pairs stand above: the leaders, and neighbours in rank.
      </p>
    </div>
  );
}
