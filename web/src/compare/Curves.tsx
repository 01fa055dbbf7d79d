// Strength along what is measured: each curve with its band, and what it says.
import type { Schemas } from "../api/client";
import { CurveFigure } from "../charts/CurveFigure";
import { HowWeKnow } from "./HowWeKnow";

interface Props {
  charts: Schemas["CurveChart"][];
  view: Schemas["CompareView"];
  /** What strengths are read in as well; empty for nothing. */
  beside: string;
}

export function Curves({ charts, view, beside }: Props) {
  const other = view.unit_options.find((one) => one.symbol === beside);
  const second = other && { symbol: other.symbol, each: other.per_si / view.unit.per_si };
  return (
    <>
      {charts.map((chart) => (
        <section key={chart.factor} className="mt-4" aria-label={`Along ${chart.factor}`}>
          <h3 className="border-b rule pb-1 text-lg">Strength along {chart.factor}</h3>
          <CurveFigure chart={chart} beside={second} />
          {chart.lines.map((line) => (
            <p key={line.name} className="mt-1">
              {chart.lines.length > 1 && <strong>{line.name}: </strong>}
              {line.said.join(" ")}
            </p>
          ))}
          {chart.tests.map((words) => (
            <p key={words} className="mt-1">
              {words}
            </p>
          ))}
          <HowWeKnow
            of={chart.factor}
            how={{
              method:
                "Least squares on the pieces that broke; the band holds the mean in 19 of 20 such trials.",
              formula: `strength = ${chart.formula}`,
              inputs:
                "the pieces shown as circles; the others stand beside it, and in the likelihood where told",
              section: "curves",
            }}
          />
        </section>
      ))}
    </>
  );
}
