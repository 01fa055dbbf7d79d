// Strength along what is measured: each curve with its band, and what it says.
import type { Schemas } from "../api/client";
import { CurveFigure } from "../charts/CurveFigure";
import { HowWeKnow } from "./HowWeKnow";

export function Curves({ charts }: { charts: Schemas["CurveChart"][] }) {
  return (
    <>
      {charts.map((chart) => (
        <section key={chart.factor} className="mt-4" aria-label={`Along ${chart.factor}`}>
          <h3 className="border-b rule pb-1 text-lg">Strength along {chart.factor}</h3>
          <CurveFigure chart={chart} />
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
