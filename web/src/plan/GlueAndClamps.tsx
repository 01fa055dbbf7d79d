// Glue and clamps: what each glue takes and costs, what presses each set, in how many rounds.
import type { Schemas } from "../api/client";
import { useOpenShop } from "../app/shopContext";
import { SetUpDrawing } from "../drawings/SetUpDrawing";
import { useUnits } from "../shop/useUnits";
import { digits, money } from "../ui/format";
import { Chosen, Quantity, usePlanning } from "./planning";

type Line = Schemas["LineForce"];

export function GlueAndClamps() {
  const { plan } = usePlanning();
  const openShop = useOpenShop();
  const { glues, forces, glue_cost: cost, pieces, days } = plan.consequences;
  return (
    <>
      <div className="grid grid-cols-3 items-end gap-4">
        <Chosen
          name="faces"
          label="Glue goes on"
          options={[
            ["both", "both faces"],
            ["one", "one face"],
          ]}
        />
        <Quantity name="waste_pct" label="Glue wasted" />
        <Quantity name="seconds_each_s" label="Spread and close one" placeholder="1 min" />
      </div>
      {glues.length > 0 && (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
        <section className="overflow-x-auto" aria-label="Glue that the plan takes" tabIndex={0}>
          <table className="plain mt-3">
            <thead>
              <tr>
                <th>glue</th>
                <th>pieces</th>
                <th>takes</th>
                <th>to buy</th>
                <th>costs</th>
                <th>a piece</th>
                <th>100 cm²</th>
              </tr>
            </thead>
            <tbody>
              {glues.map((glue) => (
                <tr key={glue.name}>
                  <td>{glue.name}</td>
                  <td>{glue.pieces}</td>
                  <td>
                    {glue.mass_g == null ? "–" : `${digits(glue.mass_g, 2)} g`}
                    {glue.first_part_g != null && glue.second_part_g != null && (
                      <span className="pencil block text-sm">
                        {digits(glue.first_part_g, 2)} + {digits(glue.second_part_g, 2)} g
                      </span>
                    )}
                  </td>
                  <td>
                    {glue.packs == null
                      ? "–"
                      : glue.packs === 0
                        ? "nothing"
                        : `${glue.packs} ${glue.packs === 1 ? "pack" : "packs"}`}
                  </td>
                  <td>{money(glue.cost)}</td>
                  <td>{money(glue.price_per_piece)}</td>
                  <td>{money(glue.per_100_cm2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {cost != null && (
        <p className="mt-2">
          Glue for the trial: <strong>{money(cost)}</strong>, {money(cost / Math.max(1, pieces))} a piece of
          the whole trial. Time is not in it.
        </p>
      )}
      {glues
        .filter((glue) => glue.missing.length > 0)
        .map((glue) => (
          <p key={glue.name} className="mt-1">
            {glue.name} cannot be priced without {glue.missing.join(" and ")}.{" "}
            <button type="button" className="link" onClick={openShop}>
              Fill in its card
            </button>
          </p>
        ))}
      {group(forces.filter((one) => one.glued_with == null)).map((lines) => (
        <ClampLine key={lines[0]?.name} lines={lines} />
      ))}
      {days && forces.some((one) => one.set_up) && <p className="mt-3">{days.words}</p>}
      {forces.length > 0 && forces.every((one) => one.set_up == null) && (
        <p className="mt-2">
          No clamps of the shop are known that give this force.{" "}
          <button type="button" className="link" onClick={openShop}>
            Say which clamps and weights there are
          </button>{" "}
          and the rounds are counted.
        </p>
      )}
    </>
  );
}

/** Sets that are pressed alike stand together. */
const group = (forces: readonly Line[]) => [
  ...Map.groupBy(forces, (one) =>
    JSON.stringify([one.force_n, one.set_up?.name, one.set_up?.rounds]),
  ).values(),
];

function ClampLine({ lines }: { lines: readonly Line[] }) {
  const { force, stress, show } = useUnits();
  const one = lines[0];
  if (one?.force_n == null) return null;
  const setUp = one.set_up;
  const names = lines.slice(0, 4).map((line) => line.name);
  const rounds = setUp?.rounds ?? [];
  return (
    <div className="mt-4 grid items-center gap-x-5 gap-y-2 border-t rule pt-3 md:grid-cols-[1fr_18rem]">
      <div>
        <p>
          <strong>
            {names.join(", ")}
            {lines.length > 4 ? ` and ${lines.length - 4} more` : ""}
          </strong>
          : {show(one.pressure_mpa, stress)} is {show(one.force_n, force)} on each piece
          {one.bar ? `, ${show(2 * one.force_n, force)} on each bar of two` : ""}.
        </p>
        {setUp && (
          <p className="mt-1">
            {setUp.clamps} × {setUp.name} over{" "}
            {setUp.side_by_side * setUp.in_line === 1
              ? one.bar
                ? "one bar"
                : "one piece"
              : `${setUp.side_by_side * setUp.in_line} ${one.bar ? "bars" : "pieces"}${setUp.side_by_side > 1 ? `, ${setUp.side_by_side} side by side` : ""}${setUp.in_line > 1 ? `, ${setUp.in_line} in line` : ""}`}
            . {lines.length > 1 ? "Each set by itself: " : "By itself: "}
            {rounds.length} {rounds.length === 1 ? "round" : "rounds"}
            {rounds.length > 1 ? ` (${rounds.join(", ")} set-ups)` : ""}
            {setUp.dummies > 0
              ? `, ${setUp.dummies} ${setUp.dummies > 1 ? "dummies" : "dummy"} in the last`
              : ""}
            .
          </p>
        )}
      </div>
      {setUp && <SetUpDrawing setUp={setUp} dummies={setUp.dummies} />}
    </div>
  );
}
