// The sheet as it stands, each cell painted with what became of it; columns, rows and cells can be pointed at.
import { useMemo } from "react";
import type { Schemas } from "../api/client";

interface Props {
  sheet: Schemas["SheetView"];
  /** What is pointed at: `Dock!C`, `Dock!7` or `Dock!C5`. */
  pointed: string;
  onPoint: (key: string) => void;
}

const BECAME: Record<string, string> = {
  piece: "bg-layout-pale font-semibold",
  set: "font-semibold",
  label: "",
  more: "bg-cell",
  computed: "bg-teal-1 text-pencil",
  heading: "bg-plaster font-semibold",
  title: "italic",
};

export const LEGEND: [string, string][] = [
  ["piece", "a piece"],
  ["computed", "computed from pieces"],
  ["heading", "a heading"],
  ["more", "goes with a piece"],
];

const letters = (column: number): string =>
  (column >= 26 ? letters(Math.floor(column / 26) - 1) : "") + String.fromCharCode(65 + (column % 26));

export function SheetGrid({ sheet, pointed, onPoint }: Props) {
  const cells = useMemo(() => {
    const found = new Map<string, Schemas["CellView"]>();
    for (const cell of sheet.cells) found.set(`${cell.row} ${cell.column}`, cell);
    return found;
  }, [sheet]);
  const key = (place: string) => (sheet.name ? `${sheet.name}!${place}` : place);
  const point = (place: string) => onPoint(pointed === key(place) ? "" : key(place));
  const columns = Array.from({ length: sheet.columns }, (_, at) => at);
  const isPointed = (row: number, column: number) =>
    [letters(column), String(row + 1), `${letters(column)}${row + 1}`].some(
      (place) => key(place) === pointed,
    );
  return (
    <>
      <p className="pencil mb-1 flex flex-wrap gap-x-4 text-sm">
        {LEGEND.map(([name, words]) => (
          <span key={name}>
            <span className={`mr-1 inline-block border rule px-1.5 ${BECAME[name]}`}>12</span>
            {words}
          </span>
        ))}
        <span>
          <span className="mr-1 inline-block border-2 border-iron px-1.5">12</span>is wrong by the pieces
        </span>
        <span>
          <span className="mr-1 inline-block bg-amber-pale px-1.5">?</span>is asked about
        </span>
      </p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys */}
      <section className="max-h-[74vh] overflow-auto border rule bg-sheet" aria-label="Cells" tabIndex={0}>
        <table className="border-collapse text-[0.9rem]">
          <thead>
            <tr>
              <th className="sticky top-0 left-0 z-20 bg-plaster" aria-label="Rows and columns" />
              {columns.map((column) => (
                <th key={column} className="sticky top-0 z-10 border rule bg-plaster p-0">
                  <button
                    type="button"
                    className={`min-h-8 w-full px-2 ${pointed === key(letters(column)) ? "bg-layout text-sheet" : ""}`}
                    aria-label={`Column ${letters(column)}`}
                    aria-pressed={pointed === key(letters(column))}
                    onClick={() => point(letters(column))}
                  >
                    {letters(column)}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: sheet.rows }, (_, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
              <tr key={row}>
                <th className="sticky left-0 z-10 border rule bg-plaster p-0 font-normal">
                  <button
                    type="button"
                    className={`min-h-7 w-full px-2 ${pointed === key(String(row + 1)) ? "bg-layout text-sheet" : ""}`}
                    aria-label={`Row ${row + 1}`}
                    aria-pressed={pointed === key(String(row + 1))}
                    onClick={() => point(String(row + 1))}
                  >
                    {row + 1}
                  </button>
                </th>
                {columns.map((column) => {
                  const cell = cells.get(`${row} ${column}`);
                  const place = `${letters(column)}${row + 1}`;
                  return (
                    // biome-ignore lint/a11y/useKeyWithClickEvents: columns and rows are pointed at by keys
                    <td
                      key={column}
                      title={cell?.wrong || undefined}
                      className={`max-w-[11rem] truncate border rule px-1.5 ${BECAME[cell?.became ?? ""] ?? ""} ${
                        cell?.wrong ? "outline-2 -outline-offset-2 outline-iron" : ""
                      } ${cell?.asked ? "!bg-amber-pale" : ""} ${
                        isPointed(row, column) ? "!bg-layout !text-sheet" : ""
                      } ${cell && /^[\d.,%\s-]+$/.test(cell.text) ? "text-right tabular-nums" : ""}`}
                      style={cell?.fill ? { boxShadow: `inset 0 -4px 0 #${cell.fill}` } : undefined}
                      onClick={() => cell && point(place)}
                    >
                      {cell?.text}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {sheet.more_rows > 0 && (
        <p className="pencil mt-1 text-sm">And {sheet.more_rows} rows more, read as these.</p>
      )}
    </>
  );
}
