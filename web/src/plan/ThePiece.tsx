// The piece: its joint with the glued area, its sizes, and the fixture that loads it.
import { FixtureDrawing } from "../drawings/FixtureDrawing";
import { JointDrawing } from "../drawings/JointDrawing";
import { useUnits } from "../shop/useUnits";
import { digits } from "../ui/format";
import { Cautions, Chosen, Quantity, usePlanning } from "./planning";

const ALWAYS = ["length_mm", "width_mm", "depth_mm"];

export function ThePiece() {
  const { plan, settled } = usePlanning();
  const { area, show } = useUnits();
  const joint = plan.joints.find((one) => one.name === plan.trial.joint);
  const typed = Object.fromEntries(plan.quantities.map((one) => [one.name, one.typed]));
  const names = [...plan.needed_sizes, ...ALWAYS.filter((name) => !plan.needed_sizes.includes(name))];
  const line = plan.consequences.forces.find((one) => one.area_mm2 != null);
  const shares = Object.entries(line?.shares ?? {}).map(
    ([pair, share]) => `${digits(100 * share, 2)} % ${pair}`,
  );
  const bends = plan.trial.fixture.startsWith("bend") && !plan.needed_sizes.includes("span_mm");
  const jointVaries = plan.factors.some((one) => one.kind === "joint");
  return (
    <>
      <div className="grid items-start gap-x-6 gap-y-4 md:grid-cols-2">
        <div className="grid gap-3">
          <Chosen
            name="joint"
            label={jointVaries ? "Joint (of what is not varied)" : "Joint"}
            disabled={settled}
            options={plan.joints.map((one) => [one.name, one.words] as const)}
          />
          <JointDrawing joint={plan.trial.joint} />
          {joint && (
            <p className="text-sm">
              Glued area = {joint.formula}
              {line?.area_mm2 != null && (
                <>
                  {" "}
                  = <strong>{show(line.area_mm2, area)}</strong>
                </>
              )}
              . {shares.length > 0 && `${shares.join(", ")}. `}
              {joint.closes
                ? "It can close as the glue shrinks."
                : "It cannot close as the glue shrinks: a gap stays a gap."}
            </p>
          )}
        </div>
        <div className="grid grid-cols-2 items-end gap-3">
          {names.map((name) => (
            <Quantity key={name} name={name} label={labelOf(name, plan)} />
          ))}
          {bends && <Quantity name="span_mm" label="span between the supports (if you like)" />}
          <div className="col-span-2">
            <Cautions at="piece" />
          </div>
        </div>
      </div>
      <div className="mt-5 grid items-start gap-x-6 gap-y-3 md:grid-cols-[1fr_1.5fr]">
        <div className="grid gap-3">
          <Chosen
            name="fixture"
            label="Fixture: how the rig loads it"
            disabled={settled}
            options={plan.fixtures.map((one) => [one.name, one.words] as const)}
          />
          <p>{plan.fixture.sits}</p>
          <p className="text-sm">
            Strength = {plan.fixture.formula}. Measured on each piece: {plan.fixture.measured}.
          </p>
        </div>
        <FixtureDrawing fixture={plan.trial.fixture} joint={plan.trial.joint} sizes={typed} />
      </div>
    </>
  );
}

function labelOf(name: string, plan: ReturnType<typeof usePlanning>["plan"]): string | undefined {
  const one = plan.quantities.find((quantity) => quantity.name === name);
  return plan.needed_sizes.includes(name) ? one?.words : `${one?.words} (for the cut list)`;
}
