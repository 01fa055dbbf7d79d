// So what, while breaking: this break against its set, and every set so far.
import type { Schemas } from "../api/client";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { convert, digits } from "../ui/format";
import { INK } from "../ui/ink";

interface Props {
  view: Schemas["BreakView"];
  piece: Schemas["BreakPiece"] | undefined;
  peakMpa: number | null;
  /** Which place it takes in its set so far, in words. */
  place: string;
}

export function BreakSoWhat({ view, piece, peakMpa, place }: Props) {
  const unit = useUnits().strength(useTrial().rack.strength_kind);
  const highest = Math.max(1e-9, peakMpa ?? 0, ...view.so_far.flatMap((set) => set.strengths)) * 1.05;
  const mine = view.so_far.find((set) => set.name === piece?.treatment);
  return (
    <>
      {place && <p>{place}</p>}
      <div className="grid gap-2">
        {view.so_far.map((set) => (
          <div key={set.name}>
            <p className="flex justify-between">
              <span className={`head ${set.name === mine?.name ? "text-layout" : ""}`}>{set.name}</span>
              <span className="mono pencil">
                {set.average === null ? "–" : `${digits(convert(set.average, unit))} ${unit.symbol}`}
              </span>
            </p>
            <svg
              viewBox="0 0 264 22"
              className="w-full"
              role="img"
              aria-label={`${set.strengths.length} pieces of ${set.name} so far`}
            >
              <path d="M4 12h256" stroke={INK.rule} />
              {set.strengths.map((strength) => (
                <circle
                  key={strength}
                  cx={4 + (256 * strength) / highest}
                  cy={12}
                  r={3.6}
                  fill={INK.graphite}
                  fillOpacity={0.7}
                />
              ))}
              {set.average !== null && (
                <path
                  d={`M${4 + (256 * set.average) / highest} 3v18`}
                  stroke={INK.graphite}
                  strokeWidth={2.4}
                />
              )}
              {set.name === mine?.name && peakMpa !== null && (
                <circle
                  cx={4 + (256 * peakMpa) / highest}
                  cy={12}
                  r={6}
                  fill="none"
                  stroke={INK.layout}
                  strokeWidth={2.4}
                />
              )}
            </svg>
          </div>
        ))}
      </div>
      <p className="pencil border-t rule pt-3 text-sm">
        Averages on the way are no verdict: the order of breaking is shuffled, and Compare says what is luck.
      </p>
    </>
  );
}
