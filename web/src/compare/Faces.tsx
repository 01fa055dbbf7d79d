// Pried pieces: no strengths. Each set with how many passed and what that bounds; the faces that failed stand open.
import type { Schemas } from "../api/client";
import { PieceGlyph } from "../drawings/PieceGlyph";

interface Props {
  view: Schemas["CompareView"];
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

export function Faces({ view, selected, onSelect }: Props) {
  const rows = view.passing?.rows ?? [];
  return (
    <>
      <section className="mt-4 border-t rule pt-3" aria-label="What passed">
        <h3 className="text-xl">What passed</h3>
        <p className="pencil text-sm">{view.waits}</p>
        <table className="plain dense mt-2">
          <caption className="sr-only">Sets by how many of their pieces passed</caption>
          <thead>
            <tr>
              <th>set</th>
              <th>passed</th>
              <th>of all such pieces, at least</th>
              <th>at most</th>
              <th>more, all passing, for 95 %</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((one) => (
              <tr key={one.level}>
                <td className="head">{one.level}</td>
                <td className="font-semibold">
                  {one.passed} of {one.n}
                </td>
                <td>{Math.floor(one.at_least_pct)} %</td>
                <td>{Math.ceil(one.at_most_pct)} %</td>
                <td>{one.more_for_claim === 0 ? "can be claimed" : one.more_for_claim}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="pencil mt-1 text-sm">Each bound holds by itself, 19 times in 20.</p>
      </section>
      <h3 className="mt-4 text-xl">The broken faces</h3>
      {[...Map.groupBy(view.dots, (dot) => dot.treatment)].map(([set, dots]) => {
        const failed = dots.filter((dot) => !view.passed_ids.includes(dot.piece_id));
        const passed = dots.filter((dot) => view.passed_ids.includes(dot.piece_id));
        return (
          <section key={set} className="mt-3" aria-label={set}>
            <h4 className="border-b rule pb-1 font-semibold">
              {set}: {failed.length === 0 ? "none failed" : `${failed.length} failed`}
            </h4>
            <Row dots={failed} selected={selected} onSelect={onSelect} />
            {passed.length > 0 && (
              <details>
                <summary className="link inline-flex min-h-6 items-center text-sm">
                  {passed.length} passed
                </summary>
                <Row dots={passed} selected={selected} onSelect={onSelect} />
              </details>
            )}
          </section>
        );
      })}
    </>
  );
}

interface RowProps {
  dots: Schemas["Dot"][];
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

function Row({ dots, selected, onSelect }: RowProps) {
  return (
    <ul className="mt-2 flex flex-wrap gap-3">
      {dots.map((dot) => (
        <li key={dot.piece_id}>
          <button
            type="button"
            className={`${dot.photo_id === null ? "w-20" : "w-32"} border-2 p-1 text-center ${dot.piece_id === selected ? "border-layout bg-layout-pale" : "border-transparent"}`}
            aria-pressed={dot.piece_id === selected}
            onClick={() => onSelect(dot.piece_id)}
          >
            {dot.photo_id !== null && (
              <img
                src={`/api/shop/photos/${dot.photo_id}`}
                alt={`Broken face of ${dot.label}`}
                loading="lazy"
                className="h-20 w-full object-cover"
              />
            )}
            <svg viewBox="0 0 48 26" aria-hidden="true">
              <PieceGlyph
                piece={{
                  state: "broken",
                  solid: false,
                  wood_failure_pct: dot.wood_failure_pct,
                  excluded: dot.excluded !== null,
                  outcome: dot.outcome,
                  share: 0.2,
                }}
              />
            </svg>
            <span className="mono block">{dot.label}</span>
            <span className="text-sm">
              {dot.wood_failure_pct === null ? "fell apart" : `${dot.wood_failure_pct} % torn`}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
