// Adding a value of what is varied: typed, from the shelf, or spaced evenly or by ratio.
import { useState } from "react";
import { useShop } from "../shop/queries";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { type Factor, usePlanning } from "./planning";
import { addLevel, addSpaced } from "./queries";

export function AddValue({ factor }: { factor: Factor }) {
  const { id, plan, act } = usePlanning();
  const shop = useShop().data;
  const [value, setValue] = useState("");
  const [family, setFamily] = useState("");
  const [spacing, setSpacing] = useState(false);
  const isGlue = factor.kind === "glue";
  const known = shop?.glues.some((glue) => glue.name.toLowerCase() === value.trim().toLowerCase()) ?? false;
  const asksFamily = isGlue && value !== "" && !known;
  const taken = new Set(factor.levels.map((one) => one.name));
  const shelf = isGlue ? (shop?.glues ?? []).map((glue) => glue.name) : [];
  const offered =
    factor.kind === "joint"
      ? plan.joints.map((one) => one.words)
      : factor.kind === "species"
        ? (shop?.species ?? [])
        : shelf;
  const add = async (text: string) => {
    if (await act.run(() => addLevel(id, factor.id, text, isGlue && !known ? family : "")))
      setValue((now) => (now === text ? "" : now));
  };
  const choose = (text: string) => {
    setValue(text);
    void add(text);
  };
  const list = `offered-${factor.id}`;
  const first = factor.id === plan.factors[0]?.id;
  return (
    <>
      <form
        className={`mt-2 grid items-end gap-3 ${asksFamily ? "md:grid-cols-[1fr_1fr_auto]" : "max-w-[34rem] grid-cols-[1fr_auto]"}`}
        onSubmit={(event) => {
          event.preventDefault();
          void add(value);
        }}
      >
        <label className="block">
          <span className="label">
            {first ? "Add a value" : `Add a value of ${factor.words}`}
            {factor.unit ? ` (${factor.unit}, or write the unit)` : ""}
          </span>
          <input
            className="entry"
            value={value}
            list={list}
            aria-invalid={act.problem !== null}
            onChange={(event) => {
              act.clear();
              setValue(event.target.value);
            }}
          />
        </label>
        <datalist id={list}>
          {offered
            .filter((name) => !taken.has(name))
            .map((name) => (
              <option key={name} value={name} />
            ))}
        </datalist>
        {asksFamily && (
          <Pick
            label="Its family (new on the shelf)"
            value={family}
            options={[["", "choose …"], ...(shop?.families ?? []).map((name) => [name, name] as const)]}
            onChange={setFamily}
          />
        )}
        <button type="submit" className="press" disabled={act.busy}>
          Add
        </button>
        <div className="col-span-full">
          <Trouble problem={act.problem} onChoose={choose} />
        </div>
      </form>
      {factor.unit &&
        (spacing ? (
          <Spaced factor={factor} onDone={() => setSpacing(false)} />
        ) : (
          <button type="button" className="link text-sm" onClick={() => setSpacing(true)}>
            several at once, from lowest to highest …
          </button>
        ))}
    </>
  );
}

function Spaced({ factor, onDone }: { factor: Factor; onDone: () => void }) {
  const { id, act } = usePlanning();
  const { form, text } = useForm({ lowest: "", highest: "", count: "5" }, act.problem);
  const [spacing, setSpacing] = useState<"ratio" | "even">("ratio");
  return (
    <form
      className="mt-2 grid grid-cols-2 items-end gap-3 md:grid-cols-[1fr_1fr_5rem_1.6fr_auto]"
      onSubmit={async (event) => {
        event.preventDefault();
        if (await act.run(() => addSpaced(id, factor.id, { ...form, spacing }))) onDone();
      }}
    >
      {text("lowest", "lowest")}
      {text("highest", "highest")}
      {text("count", "how many")}
      <Pick
        label="spaced"
        value={spacing}
        options={[
          ["ratio", "by ratio (times)"],
          ["even", "evenly"],
        ]}
        onChange={(now) => setSpacing(now === "even" ? "even" : "ratio")}
      />
      <button type="submit" className="press" disabled={act.busy}>
        Add them
      </button>
      <div className="col-span-2 md:col-span-5">
        <Trouble problem={act.problem} />
      </div>
    </form>
  );
}
