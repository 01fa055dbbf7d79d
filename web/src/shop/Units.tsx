// The units of the screens.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { setUnit } from "./queries";

const NAMES = ["length", "force", "stress", "temperature"] as const;

export function Units({ units }: { units: Schemas["UnitsView"] }) {
  const act = useAct();
  const choose = (name: (typeof NAMES)[number], value: string) =>
    void act.run(() => setUnit(name, units[name].symbol, value));
  return (
    <section aria-label="Units">
      <p className="pencil py-1">Any unit can be typed anywhere. What was typed is kept as it was.</p>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        {NAMES.map((name) => (
          <Pick
            key={name}
            label={name}
            value={units[name].symbol}
            options={(units.offered[name] ?? []).map((one) => [one, one] as const)}
            onChange={(value) => choose(name, value)}
          />
        ))}
      </div>
      <Trouble problem={act.problem} />
    </section>
  );
}
