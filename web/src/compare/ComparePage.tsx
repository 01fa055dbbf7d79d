// Compare: every piece, the sets in numbers, the pairs, the verdict with what it does not show.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Station, useTrial } from "../app/TrialShell";
import { Strip } from "../charts/Strip";
import { Choice } from "../ui/Choice";
import { columnDigits, convert, percentOf, useUnits } from "../ui/format";
import { CompareSoWhat } from "./CompareSoWhat";
import { Faces } from "./Faces";
import { type Asked, useCompare } from "./queries";

type Compare = Schemas["CompareView"];

const KINDS: Record<string, string> = {
  bending: "Bending strength",
  shear: "Shear strength",
  tension: "Tensile strength",
  moment: "Moment at the joint",
};

export function ComparePage() {
  const { id, selected, select } = useTrial();
  const [asked, setAsked] = useState<Asked>({ estimate: "joint", against_baseline: false });
  const compare = useCompare(id, asked);
  const units = useUnits();
  if (!compare.data)
    return <Station aside={null}>{compare.isError ? compare.error.message : "Comparing …"}</Station>;
  const view = compare.data;
  if (view.dots.length === 0)
    return (
      <Station aside={<CompareSoWhat view={view} asked={asked} />}>
        <h2 className="text-2xl">Nothing is broken yet</h2>
        <p className="mt-2">Each break appears here as a dot as soon as it is kept.</p>
      </Station>
    );
  if (view.kind === "none")
    return (
      <Station aside={<CompareSoWhat view={view} asked={asked} />}>
        <Faces view={view} selected={selected} onSelect={select} />
      </Station>
    );
  return (
    <Station aside={<CompareSoWhat view={view} asked={asked} />}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">{KINDS[view.kind] ?? "Strength"}, each piece</h2>
        <div className="flex flex-wrap gap-4">
          <Choice
            label="Judge"
            hideLabel
            value={asked.estimate}
            options={[
              ["joint", "Joint as built"],
              ["glueline", "Glue alone"],
            ]}
            onChange={(estimate) => setAsked({ ...asked, estimate })}
          />
        </div>
      </div>
      {view.waits && (
        <p role="alert" className="mt-3 border-l-4 border-graphite bg-plaster px-3 py-2">
          <strong>The verdict waits.</strong> {view.waits}
        </p>
      )}
      <div className="mt-2">
        <Strip
          dots={view.dots}
          groups={view.groups}
          unit={units.strength(view.kind)}
          selected={selected}
          onSelect={select}
        />
      </div>
      <p className="pencil text-sm">
        A dot is a piece; a brown square tore half or more in the wood; a triangle held (up) or fell apart
        (down); a cross is set aside. Bar: likely range of the typical strength.
      </p>
      <Numbers view={view} />
      <Pairs view={view} />
      <div className="mt-4 flex flex-wrap gap-6">
        <Choice
          label="Compare"
          value={view.block ? "within" : "across"}
          options={[
            ["within", "within boards"],
            ["across", "all together"],
          ]}
          onChange={(choice) => setAsked({ ...asked, within_boards: choice === "within" })}
        />
        {view.baseline && (
          <Choice
            label="Each set against"
            value={view.control ? "baseline" : "each"}
            options={[
              ["each", "each other"],
              ["baseline", `the baseline (${view.baseline})`],
            ]}
            onChange={(choice) => setAsked({ ...asked, against_baseline: choice === "baseline" })}
          />
        )}
      </div>
      <section className="mt-5">
        <h3 className="border-b rule pb-1 text-lg">How we know</h3>
        <ul className="mt-1 list-disc pl-5">
          {view.method.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </section>
    </Station>
  );
}

function Numbers({ view }: { view: Compare }) {
  const unit = useUnits().strength(view.kind);
  const inUnit = (value: number | null) => (value === null ? null : convert(value, unit));
  const text = columnDigits(view.groups.map((group) => inUnit(group.as_read.mean)));
  const use = new Map(view.use.map((one) => [one.name, one]));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
    <section className="overflow-x-auto" aria-label="The sets in numbers" tabIndex={0}>
      <table className="plain dense mt-3">
        <caption className="sr-only">The sets in numbers, {unit.symbol}</caption>
        <thead>
          <tr>
            <th>{unit.symbol}</th>
            <th>pieces</th>
            <th>average</th>
            <th>middle</th>
            <th>middle ones</th>
            <th>worst to best</th>
            <th>scatter</th>
            <th>torn</th>
            <th>likely range</th>
            <th>19 in 20 above</th>
            <th>alike</th>
          </tr>
        </thead>
        <tbody>
          {view.groups.map((group) => {
            const counts = use.get(group.level);
            const read = group.as_read;
            return (
              <tr key={group.level}>
                <td className="head">{group.level}</td>
                <td>{counts && counts.planned !== group.n ? `${group.n} of ${counts.planned}` : group.n}</td>
                <td>{text(inUnit(read.mean))}</td>
                <td>{text(inUnit(read.median))}</td>
                <td>{text(inUnit(read.trimmed_mean))}</td>
                <td>
                  {text(inUnit(read.min))} to {text(inUnit(read.max))}
                </td>
                <td>{read.cv_pct === null ? "–" : `${read.cv_pct.toFixed(0)} %`}</td>
                <td>{group.wood_failure_pct === null ? "–" : `${group.wood_failure_pct.toFixed(0)} %`}</td>
                <td>
                  {group.typical_ci95
                    ? `${text(inUnit(group.typical_ci95[0]))} to ${text(inUnit(group.typical_ci95[1]))}`
                    : "–"}
                </td>
                <td>{text(inUnit(group.lower_5pct))}</td>
                <td>{group.letters ?? "–"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="pencil mt-1 text-sm">
        As read; middle ones: without the best and the worst. Sets that share a letter cannot be told apart.
      </p>
      {view.reference && <Earlier reference={view.reference} text={text} inUnit={inUnit} />}
    </section>
  );
}

interface EarlierProps {
  reference: NonNullable<Compare["reference"]>;
  text: (value: number | null) => string;
  inUnit: (value: number | null) => number | null;
}

/** The set of an earlier trial that was chosen as a reference: beside the results, never in them. */
function Earlier({ reference: { words, pieces, broken_on, as_read: read }, text, inUnit }: EarlierProps) {
  return (
    <p className="mt-2 border-l-4 border-rule pl-3">
      For reference, <strong>{words}</strong>: average {text(inUnit(read.mean))}, worst to best{" "}
      {text(inUnit(read.min))} to {text(inUnit(read.max))}, {pieces} pieces, broken from {broken_on}. Other
      boards and another day: it stands beside the results and is not in any verdict.
    </p>
  );
}

const VERDICT_WORDS: Record<string, string> = {
  a_stronger: "stronger",
  b_stronger: "weaker",
  same_for_practice: "the same for practice",
  cannot_tell: "cannot tell yet",
};

function Pairs({ view }: { view: Compare }) {
  if (view.pairs.length === 0) return null;
  return (
    <table className="plain mt-5">
      <caption className="sr-only">Pairs of sets</caption>
      <thead>
        <tr>
          <th>first against second</th>
          <th>differs by</th>
          <th>likely range</th>
          <th>the first is</th>
        </tr>
      </thead>
      <tbody>
        {view.pairs.map((pair) => (
          <tr key={pair.a + pair.b}>
            <td className="head">
              {pair.a} against {pair.b}
            </td>
            <td>{pair.ratio === null ? "–" : percentOf(pair.ratio)}</td>
            <td className="whitespace-nowrap">
              {pair.ratio_ci95 ? `${percentOf(pair.ratio_ci95[0])} to ${percentOf(pair.ratio_ci95[1])}` : "–"}
            </td>
            <td className={pair.verdict === "cannot_tell" ? "pencil" : "font-semibold"}>
              {VERDICT_WORDS[pair.verdict]}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
