// Every pair of sets as one matrix of words: the row against the column.
import type { Schemas } from "../api/client";
import { rangeOf } from "../ui/format";

type Pair = Schemas["PairWords"];

/** What the row is against the column: a word and the range, whichever way round the pair was computed. */
function turn(pair: Pair, row: string) {
  const forward = pair.a === row;
  const range = forward ? pair.ratio_ci95 : pair.back_ci95;
  const wins = forward ? "a_stronger" : "b_stronger";
  const words =
    pair.verdict === "cannot_tell"
      ? "cannot tell"
      : pair.verdict === "same_for_practice"
        ? "the same"
        : pair.verdict === wins
          ? "stronger"
          : "weaker";
  return { words, range };
}

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
                  <td key={column} className={words === "cannot tell" ? "pencil" : ""}>
                    <span className={words === "cannot tell" ? "" : "font-semibold"}>{words}</span>
                    <span className="block whitespace-nowrap text-sm">{rangeOf(range) ?? "no range"}</span>
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
