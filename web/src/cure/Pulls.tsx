// A trial over years: which sets are pulled when, what is left of them, what is kept in reserve.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { MovePiece } from "../glue/MovePiece";
import { longDay } from "../ui/format";

interface Props {
  pulls: Schemas["PullDate"][];
  pieces: Schemas["MakingPiece"][];
  sets: Schemas["SetChoice"][];
}

export function Pulls({ pulls, pieces, sets }: Props) {
  const [moving, setMoving] = useState<Schemas["MakingPiece"] | null>(null);
  if (pulls.length === 0) return null;
  const reserve = pieces.filter((piece) => piece.set === "reserve" && piece.state !== "broken");
  return (
    <section className="mb-6" aria-label="Dates over the years">
      <h2 className="border-b rule pb-1 text-xl">Dates over the years</h2>
      <table className="plain mt-1">
        <thead>
          <tr>
            <th>age</th>
            <th className="!text-left">pulled on</th>
            <th>pieces</th>
            <th>left</th>
            <th>boards</th>
          </tr>
        </thead>
        <tbody>
          {pulls.map((one) => (
            <tr key={one.set}>
              <td className="head">{one.set}</td>
              <td className="!text-left">
                {one.due_utc
                  ? `${longDay(one.due_utc)} ${one.due_utc.slice(0, 4)}`
                  : one.set === "reserve"
                    ? "no date: kept for one"
                    : "once it is glued"}
              </td>
              <td>{one.pieces}</td>
              <td>{one.pieces - one.broken}</td>
              <td>{one.boards}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {reserve.length > 0 ? (
        <p className="mt-2 flex flex-wrap items-baseline gap-x-3">
          A lost piece, or a date that was not planned, takes one of the reserve:
          {reserve.map((piece) => (
            <button
              key={piece.id}
              type="button"
              className="link mono min-h-[36px]"
              onClick={() => setMoving(piece)}
            >
              {piece.label}
            </button>
          ))}
        </p>
      ) : (
        <p className="pencil mt-2 text-sm">
          Every date has pieces from several boards. A value “reserve” beside the ages keeps pieces for dates
          that are not set yet.
        </p>
      )}
      {moving && <MovePiece piece={moving} sets={sets} onClose={() => setMoving(null)} />}
    </section>
  );
}
