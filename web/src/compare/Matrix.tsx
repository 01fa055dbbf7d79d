// Every pair of sets as one matrix of words: the row against the column.
import type { Schemas } from "../api/client";

type Pair = Schemas["PairWords"];

/** What the row is against the column: a word and the range, whichever way round the pair was computed. */
const turn = (pair: Pair, row: string) =>
  pair.a === row ? { words: pair.is_, range: pair.range } : { words: pair.back_is, range: pair.back_range };

export function Matrix({ pairs, levels }: { pairs: Pair[]; levels: string[] }) {
  const find = (row: string, column: string) =>
    pairs.find((pair) => (pair.a === row && pair.b === column) || (pair.a === column && pair.b === row));
  const rows = levels.filter((row) => levels.some((column) => row !== column && find(row, column)));
  const columns = levels.filter((column) => rows.some((row) => row !== column && find(row, column)));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
    <section className="overflow-x-auto" aria-label="Set against set" tabIndex={0}>
      <table className="plain dense mt-5">
        <caption className="sr-only">What each set in a row is against the set in a column</caption>
        <thead>
          <tr>
            <th>is, against</th>
            {columns.map((column) => (
              <th key={column}>{column}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row}>
              <td className="head">{row}</td>
              {columns.map((column) => {
                const pair = row === column ? undefined : find(row, column);
                if (!pair) return <td key={column}>–</td>;
                const { words, range } = turn(pair, row);
                return (
                  <td key={column} className={pair.verdict === "cannot_tell" ? "pencil" : ""}>
                    <span className={pair.verdict === "cannot_tell" ? "" : "font-semibold"}>{words}</span>
                    <span className="block whitespace-nowrap text-sm">{range || "no range"}</span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
