// The cut list and the cut map of every board: where each part lies, what is left, what to buy.
import { CutMap } from "../drawings/CutMap";
import { useUnits } from "../shop/useUnits";
import { convert, plainSize } from "../ui/format";
import { Chosen, usePlanning } from "./planning";
import { useCutList } from "./queries";

export function CutList() {
  const { id } = usePlanning();
  const cuts = useCutList(id);
  const { length } = useUnits();
  if (!cuts.data) return <p className="pencil mt-2">{cuts.isError ? cuts.error.message : "Sawing …"}</p>;
  const { data } = cuts;
  const size = (...mm: number[]) => `${mm.map((one) => plainSize(convert(one, length))).join(" × ")}`;
  return (
    <>
      <div className="mt-3 max-w-96">
        <Chosen
          name="together"
          label="The two parts of a piece"
          options={[
            ["0", "from wherever they fit on the board"],
            ["1", "next to each other in one strip (matched)"],
          ]}
        />
      </div>
      {data.trouble.map((words) => (
        <p key={words} className="mt-2">
          {words}
        </p>
      ))}
      {data.parts.length > 0 && (
        <table className="plain dense mt-3">
          <caption className="sr-only">Cut list</caption>
          <thead>
            <tr>
              <th>part</th>
              <th>number</th>
              <th>sawn, {length.symbol}</th>
              <th>finished, {length.symbol}</th>
            </tr>
          </thead>
          <tbody>
            {data.parts.map((part) => (
              <tr key={part.words + part.grain + part.length_mm + part.width_mm}>
                <td className="!whitespace-normal">
                  {part.words} <span className="pencil">{part.grain}</span>
                </td>
                <td>{part.number}</td>
                <td>{size(part.rough_length_mm, part.rough_width_mm, part.rough_thickness_mm)}</td>
                <td>{size(part.length_mm, part.width_mm, part.thickness_mm)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data.spares > 0 && <p className="mt-2">And {data.spares} spare pieces of your choice.</p>}
      {data.missing.length > 0 && (
        <p className="mt-2">
          <strong className="text-iron">No room for {data.missing.length} pieces</strong> (
          <span className="mono">{data.missing.slice(0, 6).join(" ")}</span>
          {data.missing.length > 6 ? " …" : ""}).
          {data.boards_to_buy > 0 &&
            ` Buy ${data.boards_to_buy} more like the last, or let boards hold fewer.`}
        </p>
      )}
      {data.boards.map((board) =>
        board.size ? (
          <figure key={board.id} className="mt-4">
            <figcaption className="flex flex-wrap items-baseline justify-between gap-x-3">
              <span className="head">
                {board.name} <span className="label">{board.species}</span>
              </span>
              <span className="pencil text-sm">
                {size(board.size.length_mm, board.size.width_mm, board.size.thickness_mm)} {length.symbol}
                {board.layers > 1 ? `, ${board.layers} layers` : ""}
              </span>
            </figcaption>
            <CutMap board={board} size={board.size} />
            <p className="pencil text-sm">{board.steps.join(" ")}</p>
          </figure>
        ) : null,
      )}
      <p className="mt-3 text-sm">
        At the saw: fence and stop block set once for all parts of a size, the stop block clear of the offcut,
        push block or hold-down for anything short. Let the blade stop before you lift a part.
      </p>
    </>
  );
}
