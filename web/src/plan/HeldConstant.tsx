// Everything that is held constant, written down: a tick where it is, so that a gap shows.
import { useAct, useShop } from "../app/queries";
import { useTrial } from "../app/TrialShell";
import { Field } from "../ui/Field";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import type { Edit, Plan } from "./PlanPage";

const GRAINS = [
  ["face", "face grain"],
  ["edge", "edge grain"],
  ["end", "end grain"],
] as const;

export function HeldConstant({ plan, edit }: { plan: Plan; edit: Edit }) {
  const { id } = useTrial();
  const act = useAct(id);
  const shop = useShop().data;
  const { trial } = plan;
  const quantity = (name: string) => plan.quantities.find((one) => one.name === name);
  const field = (name: string, words: string, value: string, hint?: string) => (
    <Field
      label={words}
      hideLabel
      bare
      value={value}
      hint={hint}
      onSave={edit(name)}
      draftKey={`${id} ${name}`}
      placeholder="not written down yet"
    />
  );
  const measured = (name: string) => {
    const one = quantity(name);
    return one ? field(name, one.words, one.typed, one.typed ? undefined : one.default_unit) : null;
  };
  const grain = (name: "grain_a" | "grain_b") => (
    <Pick
      label={name === "grain_a" ? "First part meets with" : "Second part meets with"}
      hideLabel
      bare
      value={trial[name]}
      options={GRAINS}
      onChange={(now) => void act.run(() => edit(name)(trial[name], now))}
    />
  );
  const part = (which: "a" | "b") => (
    <span className="grid grid-cols-[1fr_8rem] gap-3">
      {field(`material_${which}`, which === "a" ? "First part" : "Second part", trial[`material_${which}`])}
      {grain(`grain_${which}`)}
    </span>
  );
  const is = (name: string) => (quantity(name)?.si ?? null) !== null;
  const rows: { factor: string; words: string; written: boolean; entry: React.ReactNode }[] = [
    { factor: "species", words: "First part", written: trial.material_a !== "", entry: part("a") },
    { factor: "species", words: "Second part", written: trial.material_b !== "", entry: part("b") },
    { factor: "", words: "Angle between them", written: is("angle_deg"), entry: measured("angle_deg") },
    {
      factor: "glue",
      words: "Glue",
      written: trial.glue !== "",
      entry: (
        <>
          {field("glue", "Glue", trial.glue)}
          <span className="pencil text-sm">
            {shop?.glues.length ? `on the shelf: ${shop.glues.map((g) => g.name).join(", ")}` : ""}
          </span>
        </>
      ),
    },
    {
      factor: "prep",
      words: "Surface prep",
      written: trial.prep !== "",
      entry: field("prep", "Surface prep", trial.prep),
    },
    { factor: "gap", words: "Gap", written: is("gap_mm"), entry: measured("gap_mm") },
    {
      factor: "clamp_pressure",
      words: "Clamp pressure",
      written: is("clamp_pressure_mpa"),
      entry: measured("clamp_pressure_mpa"),
    },
    {
      factor: "clamp_time",
      words: "Clamp time",
      written: is("clamp_time_s"),
      entry: measured("clamp_time_s"),
    },
    {
      factor: "cure_time",
      words: "Cure, from closing",
      written: is("cure_time_s"),
      entry: measured("cure_time_s"),
    },
  ];
  return (
    <section className="mt-6">
      <h2 className="border-b rule pb-1 text-lg">Held constant</h2>
      <dl>
        {rows
          .filter((row) => row.factor !== trial.factor || row.factor === "species")
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
      <Trouble problem={act.problem} />
    </section>
  );
}
