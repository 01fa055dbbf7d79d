// Compare: every piece, the sets in numbers, the pairs, the verdict with what it does not show.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Station, useTrial } from "../app/TrialShell";
import { SetTraces } from "../breaking/SetTraces";
import { Strip } from "../charts/Strip";
import { useUnits } from "../shop/useUnits";
import { Choice } from "../ui/Choice";
import { columnDigits, convert, digits } from "../ui/format";
import { Pick } from "../ui/Pick";
import { CompareSoWhat } from "./CompareSoWhat";
import { Faces } from "./Faces";
import { Findings } from "./Findings";
import { HowWeKnow, HowWords } from "./HowWeKnow";
import { Matrix } from "./Matrix";
import { type Asked, useCompare, useFindings, type Wishes } from "./queries";

type Compare = Schemas["CompareView"];

/** How a piece bends is no matter of the glue alone. */
const MOVED: Schemas["Response"][] = ["usable", "usable_load", "stiffness", "work"];

export function ComparePage() {
  const { id, rack, selected, select } = useTrial();
  const [asked, setAsked] = useState<Asked>({ against_control: false });
  const [wishes, setWishes] = useState<Wishes>({ line: "", weights: "", base: "" });
  const compare = useCompare(id, asked);
  const found = useFindings(id, asked, wishes);
  const units = useUnits();
  if (!compare.data)
    return <Station aside={null}>{compare.isError ? compare.error.message : "Comparing …"}</Station>;
  const view = compare.data;
  if (rack.hides_sets)
    return (
      <Station aside={null}>
        <h2 className="text-2xl">The sets are hidden</h2>
        <p className="mt-2">
          This trial is blind: it is compared when every piece is broken. To look before that, take “Blind”
          off under Labels in the{" "}
          <Link className="link" to="../plan">
            plan
          </Link>
          ; the reason stays with the trial.
        </p>
      </Station>
    );
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
    <Station aside={<CompareSoWhat view={view} asked={asked} found={found.data} />}>
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">{view.kind_words}, each piece</h2>
        <div className="flex flex-wrap items-end gap-4">
          <Pick
            label="Compare by"
            value={view.response}
            options={view.responses.map((one) => [one.name, one.words] as const)}
            onChange={(response) => setAsked({ ...asked, response })}
          />
          {MOVED.includes(view.response) || (
            <Choice
              label="Judge"
              hideLabel
              value={view.estimate}
              options={[
                ["joint", "Joint as built"],
                ["glueline", "Glue alone"],
              ]}
              onChange={(estimate) => setAsked({ ...asked, estimate })}
            />
          )}
        </div>
      </div>
      <p className="pencil mt-1 text-sm">{view.judged_words}</p>
      {view.waits && (
        <p role="alert" className="mt-3 border-l-4 border-graphite bg-plaster px-3 py-2">
          <strong>The verdict waits.</strong> {view.waits}
        </p>
      )}
      <div className="mt-2">
        <Strip
          dots={view.dots}
          groups={view.groups}
          controls={view.controls}
          unit={units.strength(view.kind)}
          selected={selected}
          onSelect={select}
        />
      </div>
      <p className="pencil text-sm">
        A dot is a piece; a brown square tore half or more in the wood; an arrow to the right held at least
        that much, one to the left fell apart at that or less, a bar broke between two weights; a cross is set
        aside. Bar below: likely range of the typical one. Sets that share a letter cannot be told apart.
      </p>
      <Chosen view={view} selected={selected} />
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
        {view.controls.length === 1 && (
          <Choice
            label="Each set against"
            value={view.control ? "baseline" : "each"}
            options={[
              ["each", "each other"],
              ["baseline", `the baseline (${view.controls[0]})`],
            ]}
            onChange={(choice) => setAsked({ ...asked, against_control: choice === "baseline" })}
          />
        )}
      </div>
      {found.data && <Findings view={found.data} kind={view.kind} wishes={wishes} onWish={setWishes} />}
      <section className="mt-6">
        <h3 className="border-b rule pb-1 text-lg">How the verdict is made</h3>
        <ul className="mt-1 list-disc pl-5">
          {view.method.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </section>
    </Station>
  );
}

/** The piece that is chosen in the rack or the chart: its number and how it came about. */
function Chosen({ view, selected }: { view: Compare; selected: number | null }) {
  const units = useUnits();
  const dot = view.dots.find((one) => one.piece_id === selected);
  if (!dot) return null;
  const unit = units.strength(view.kind);
  const strength =
    dot.strength === null ? "no strength" : `${digits(convert(dot.strength, unit))} ${unit.symbol}`;
  return (
    <p className="mt-2 border-l-4 border-layout pl-3">
      <span className="mono font-semibold">{dot.label}</span>, {dot.treatment}, {dot.board}:{" "}
      {dot.outcome_words} {strength}
      {dot.held_strength !== null && `, held ${digits(convert(dot.held_strength, unit))} before`}
      {dot.wood_failure_pct !== null && `, ${dot.wood_failure_pct} % torn wood`}
      {dot.judged !== dot.outcome && "; for the glue alone it held at least that"}.
      {dot.load_n !== null && view.response === "strength" && (
        <span className="pencil">
          {" "}
          {view.formula}, with {digits(convert(dot.load_n, units.force), 4)} {units.force.symbol} and its{" "}
          {dot.sizes_from_plan ? "planned" : "measured"} sizes.
        </span>
      )}{" "}
      <Link className="link" to={`../break?piece=${dot.piece_id}`}>
        its break and trace
      </Link>{" "}
      <Link className="link" to={`../history?piece=${dot.piece_id}`}>
        its history
      </Link>
    </p>
  );
}

const COLUMNS = [
  "average",
  "typical",
  "middle",
  "worst to best",
  "scatter",
  "torn",
  "likely range",
  "19 in 20 above",
  "alike",
];

function Numbers({ view }: { view: Compare }) {
  const [asking, setAsking] = useState("");
  const [traced, setTraced] = useState<number | null>(null);
  const bounds = view.groups.some((group) => group.n_broke < group.n);
  const how = view.how[asking];
  const unit = useUnits().strength(view.kind);
  const inUnit = (value: number | null) => (value === null ? null : convert(value, unit));
  const text = columnDigits(view.groups.map((group) => inUnit(group.as_read.mean)));
  const typical = (group: Schemas["Group"]) =>
    group.at_least !== null
      ? `at least ${text(inUnit(group.at_least))}`
      : group.at_most !== null
        ? `at most ${text(inUnit(group.at_most))}`
        : text(inUnit(group.typical));
  const use = new Map(view.use.map((one) => [one.name, one]));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
    <section className="overflow-x-auto" aria-label="The sets in numbers" tabIndex={0}>
      <table className="plain dense tight mt-3">
        <caption className="sr-only">The sets in numbers, {unit.symbol}</caption>
        <thead>
          <tr>
            <th>{unit.symbol}</th>
            <th>pieces</th>
            {COLUMNS.map((name) => (
              <th key={name}>
                <button
                  type="button"
                  className={`min-h-6 underline decoration-dotted ${asking === name ? "text-layout" : ""}`}
                  aria-expanded={asking === name}
                  onClick={() => setAsking(asking === name ? "" : name)}
                >
                  {name}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.groups.map((group) => {
            const counts = use.get(group.level);
            const read = group.as_read;
            return (
              <tr key={group.level}>
                <td className="head">
                  {counts?.traced ? (
                    <button
                      type="button"
                      className="min-h-6 text-left underline decoration-dotted"
                      aria-expanded={traced === counts.id}
                      onClick={() => setTraced(traced === counts.id ? null : counts.id)}
                    >
                      {group.level}
                    </button>
                  ) : (
                    group.level
                  )}
                </td>
                <td>{counts && counts.planned !== group.n ? `${group.n} of ${counts.planned}` : group.n}</td>
                <td>{text(inUnit(read.mean))}</td>
                <td className="font-semibold">{typical(group)}</td>
                <td>{text(inUnit(read.median))}</td>
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
        Average, middle, worst to best and scatter are the numbers as read
        {bounds ? ", bounds at their value" : ""}; typical, range and 19 in 20 are estimated. Choose a heading
        to ask how its numbers are known{view.use.some((one) => one.traced) && ", a set to see its pulls"}.
      </p>
      {traced !== null && <SetTraces treatmentId={traced} />}
      {how && (
        <div className="mt-1 text-sm" role="status">
          <HowWords how={how} />
        </div>
      )}
      {view.reference && view.response === "strength" && (
        <Earlier reference={view.reference} text={text} inUnit={inUnit} />
      )}
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

function Pairs({ view }: { view: Compare }) {
  if (view.pairs.length === 0) return null;
  const how = view.how.pairs;
  return (
    <>
      {view.control === null && view.groups.length > 2 ? (
        <Matrix pairs={view.pairs} levels={view.groups.map((group) => group.level)} />
      ) : (
        <PairTable view={view} />
      )}
      {how && <HowWeKnow how={how} of="the pairs" />}
    </>
  );
}

function PairTable({ view }: { view: Compare }) {
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
            <td>{pair.differs || "–"}</td>
            <td className="whitespace-nowrap">{pair.range || "–"}</td>
            <td className={pair.verdict === "cannot_tell" ? "pencil" : "font-semibold"}>{pair.is_}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
