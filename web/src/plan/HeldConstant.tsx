// Everything that is held constant, written down: a tick where it is, so that a gap shows.
import { useShop } from "../shop/queries";
import { asOptions, Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { Cautions, Quantity, usePlanning, Words } from "./planning";

const EMPTY = "not written down yet";

interface Row {
  factor: string;
  words: string;
  written: boolean;
  entry: React.ReactNode;
}

export function HeldConstant() {
  const { plan, edit, act } = usePlanning();
  const shop = useShop().data;
  const { trial } = plan;
  const varied = new Set(plan.factors.map((one) => one.kind));
  const madeBaseline = plan.treatments.some((set) => set.kind === "standard" || set.kind === "untreated");
  const glue = shop?.glues.find((one) => one.name.toLowerCase() === trial.glue.toLowerCase());
  const words = (
    name: "material_a" | "material_b" | "glue" | "prep" | "spread" | "condition",
    label: string,
  ) => <Words name={name} label={label} hideLabel bare placeholder={EMPTY} />;
  const quantity = (name: string) => <Quantity name={name} hideLabel bare placeholder={EMPTY} />;
  const is = (name: string) => plan.quantities.find((one) => one.name === name)?.si != null;
  const grain = (name: "grain_a" | "grain_b") => (
    <Pick
      label={name === "grain_a" ? "First part meets with" : "Second part meets with"}
      hideLabel
      bare
      value={trial[name]}
      options={asOptions(plan.choices.grain)}
      onChange={(now) => void act.run(() => edit(name)(trial[name], now))}
    />
  );
  const part = (which: "a" | "b", label: string) => (
    <span className="grid grid-cols-[1fr_8rem] gap-3">
      {words(`material_${which}`, label)}
      {grain(`grain_${which}`)}
    </span>
  );
  const rows: Row[] = [
    { factor: "", words: "First part", written: trial.material_a !== "", entry: part("a", "First part") },
    { factor: "", words: "Second part", written: trial.material_b !== "", entry: part("b", "Second part") },
    { factor: "", words: "Angle between them", written: is("angle_deg"), entry: quantity("angle_deg") },
    {
      factor: madeBaseline ? "" : "glue",
      words: varied.has("glue") ? "Glue of the baseline" : "Glue",
      written: trial.glue !== "",
      entry: (
        <>
          {words("glue", "Glue")}
          <span className="pencil text-sm">
            {glue
              ? glue.caution
              : shop?.glues.length
                ? `on the shelf: ${shop.glues.map((one) => one.name).join(", ")}`
                : ""}
          </span>
        </>
      ),
    },
    {
      factor: "prep",
      words: "Surface prep",
      written: trial.prep !== "",
      entry: words("prep", "Surface prep"),
    },
    {
      factor: "spread",
      words: "Spread",
      written: trial.spread !== "",
      entry: words("spread", "How the glue is spread"),
    },
    { factor: "gap", words: "Gap", written: is("gap_mm"), entry: quantity("gap_mm") },
    {
      factor: "clamp_pressure",
      words: "Clamp pressure",
      written: is("clamp_pressure_mpa"),
      entry: (
        <>
          {quantity("clamp_pressure_mpa")}
          <Cautions at="pressure" />
        </>
      ),
    },
    {
      factor: "clamp_time",
      words: "Clamp time",
      written: is("clamp_time_s"),
      entry: quantity("clamp_time_s"),
    },
    {
      factor: "cure_time",
      words: "Cure, from closing",
      written: is("cure_time_s"),
      entry: quantity("cure_time_s"),
    },
    {
      factor: "",
      words: "Wood moisture",
      written: is("wood_moisture_pct"),
      entry: quantity("wood_moisture_pct"),
    },
    {
      factor: "",
      words: "Shop temperature",
      written: is("shop_temperature_c"),
      entry: (
        <>
          {quantity("shop_temperature_c")}
          <Cautions at="temperature" />
        </>
      ),
    },
    {
      factor: "condition",
      words: "Until the test",
      written: trial.condition !== "",
      entry: words("condition", "What it goes through before the test"),
    },
  ];
  return (
    <>
      <dl>
        {rows
          .filter((row) => row.factor === "" || !varied.has(row.factor))
          .map((row) => (
            <div
              key={row.words}
              className="grid grid-cols-[1.5rem_9.5rem_1fr] items-center gap-2 border-b rule py-1.5"
            >
              <span aria-hidden="true" className={row.written ? "text-graphite" : "pencil"}>
                {row.written ? "✓" : "○"}
              </span>
              <dt className="pencil">{row.words}</dt>
              <dd>{row.entry}</dd>
            </div>
          ))}
      </dl>
      {plan.not_controlled.length > 0 && (
        <p className="mt-2">
          Not controlled: <strong>{plan.not_controlled.join(", ")}</strong>. What is not written down can
          differ between pieces and nobody would know.
        </p>
      )}
      <Trouble problem={act.problem} />
    </>
  );
}
