// Pried pieces: no strengths, each broken face with its torn wood, set by set.
import type { Schemas } from "../api/client";
import { PieceGlyph } from "../drawings/PieceGlyph";

interface Props {
  view: Schemas["CompareView"];
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

export function Faces({ view, selected, onSelect }: Props) {
  const sets = [...Map.groupBy(view.dots, (dot) => dot.treatment)];
  return (
    <>
      <h2 className="text-2xl">The broken faces</h2>
      <p className="mt-2">{view.waits}</p>
      {sets.map(([set, dots]) => (
        <section key={set} className="mt-4" aria-label={set}>
          <h3 className="border-b rule pb-1 text-lg">{set}</h3>
          {view.passes[set] && <p className="mt-1">{view.passes[set]}</p>}
          <ul className="mt-2 flex flex-wrap gap-3">
            {dots.map((dot) => (
              <li key={dot.piece_id}>
                <button
                  type="button"
                  className={`w-20 border-2 p-1 text-center ${dot.piece_id === selected ? "border-layout bg-layout-pale" : "border-transparent"}`}
                  aria-pressed={dot.piece_id === selected}
                  onClick={() => onSelect(dot.piece_id)}
                >
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
        </section>
      ))}
    </>
  );
}
