// Compare: the answer first, then one slice at a time: every piece, the ranking, the pairs that matter; the rest asked for.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Station, useTrial } from "../app/TrialShell";
import { Strip } from "../charts/Strip";
import { useUnits } from "../shop/useUnits";
import { Choice } from "../ui/Choice";
import { columnDigits, convert, digits } from "../ui/format";
import { Pick } from "../ui/Pick";
import { Answer, SliceTabs } from "./Answer";
import { Pairs } from "./AskPair";
import { CompareSoWhat } from "./CompareSoWhat";
import { Curves } from "./Curves";
import { Faces } from "./Faces";
import { Findings } from "./Findings";
import { type Asked, useCompare, useCurves, useFindings, useShares, useSlices, type Wishes } from "./queries";
import { Ranking } from "./Ranking";

type Compare = Schemas["CompareView"];

/** How a piece bends is no matter of the glue alone. */
const MOVED: Schemas["Response"][] = ["usable", "usable_load", "stiffness", "work", "reached"];
const TYPED = "typed";

export function ComparePage() {
  const { id, rack, selected, select } = useTrial();
  const [asked, setAsked] = useState<Asked>({ against_control: false });
  const [beside, setBeside] = useState("");
  const slices = useSlices(id, asked);
  const chosen = asked.slice ?? slices.data?.first ?? "";
  const now: Asked = { ...asked, slice: chosen === "all" ? "" : chosen };
  const compare = useCompare(id, now, slices.data !== undefined);
  const curves = useCurves(id, now, slices.data?.along === true);
  const failed = slices.error ?? compare.error;
  if (!compare.data || !slices.data)
    return <Station aside={null}>{failed ? failed.message : "Comparing …"}</Station>;
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
  if (view.dots.length === 0 && !view.slice)
    return (
      <Station aside={<CompareSoWhat view={view} asked={now} />}>
        <h2 className="text-2xl">Nothing is broken yet</h2>
        <p className="mt-2">Each break appears here as a dot as soon as it is kept.</p>
      </Station>
    );
  const across = slices.data.headline;
  const headline = across.length > 0 ? across : view.summary ? [view.summary.headline] : [];
  const also = across.length > 0 || !view.summary ? [] : [view.summary.also, view.summary.averages];
  return (
    <Station aside={<CompareSoWhat view={view} asked={now} />}>
      <Answer said={headline} also={also.filter(Boolean)} />
      {slices.data.along && <Curves charts={curves.data ?? []} view={view} beside={beside} />}
      {slices.data.names.length > 0 && (
        <SliceTabs
          slices={slices.data}
          value={view.slice}
          onChange={(slice) => setAsked({ ...asked, slice })}
        />
      )}
      {across.length > 0 && view.summary && (
        <section className="mt-2" aria-label="Of this slice">
          {across.some((one) => one.endsWith(`: ${view.summary?.headline}`)) || (
            <p className="text-xl font-semibold">{view.summary.headline}</p>
          )}
          {view.summary.averages && <p className="mt-1">{view.summary.averages}</p>}
        </section>
      )}
      {view.kind === "none" ? (
        <Faces view={view} selected={selected} onSelect={select} />
      ) : (
        <Sets
          beside={beside}
          onBeside={setBeside}
          view={view}
          along={slices.data.along}
          asked={now}
          onAsk={setAsked}
          selected={selected}
          onSelect={select}
          id={id}
        />
      )}
    </Station>
  );
}

interface SetsProps {
  id: number;
  view: Compare;
  /** The curves stand at the top already. */
  along: boolean;
  asked: Asked;
  onAsk: (asked: Asked) => void;
  /** What numbers are read in as well; empty for nothing. */
  beside: string;
  onBeside: (symbol: string) => void;
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

/** Every piece of the slice as a dot, its sets in numbers, the pairs, and what else can be asked. */
function Sets(props: SetsProps) {
  const { id, view, along, asked, onAsk, beside, onBeside, selected, onSelect } = props;
  const [order, setOrder] = useState<"strength" | "plan">("strength");
  const [of, setOf] = useState("");
  const shares = useShares(id, asked, of === TYPED ? "" : of, view.groups.length > 1).data;
  const planned = view.use.map((one) => one.name);
  const groups =
    order === "strength"
      ? view.groups
      : [...view.groups].sort((a, b) => planned.indexOf(a.level) - planned.indexOf(b.level));
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end justify-between gap-3 border-t rule pt-3">
        <h3 className="self-center text-xl">{view.kind_words}, each piece</h3>
        <div className="flex flex-wrap items-end gap-3">
          <Pick
            label="in"
            hideLabel
            value={view.unit.symbol}
            options={view.unit_options.map((one) => [one.symbol, one.symbol] as const)}
            onChange={(unit) => onAsk({ ...asked, unit })}
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
              onChange={(estimate) => onAsk({ ...asked, estimate })}
            />
          )}
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
          groups={groups}
          controls={view.controls}
          unit={view.unit}
          selected={selected}
          onSelect={onSelect}
        />
      </div>
      <p className="pencil text-sm">{view.judged_words}</p>
      <details className="pencil text-sm">
        <summary className="link inline-flex min-h-6 items-center">How to read the dots</summary>
        <p>
          A dot is a piece; a brown square tore half or more in the wood; an arrow to the right held at least
          that much, one to the left fell apart at that or less, a bar broke between two weights; a cross is
          set aside. Bar below: likely range of the typical one. Sets that share a letter cannot be told
          apart.
        </p>
      </details>
      <Chosen view={view} selected={selected} />
      <Ranking
        view={view}
        groups={groups}
        shares={shares}
        beside={beside}
        selected={selected}
        onSelect={onSelect}
      />
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <Pick
          label="Compare by"
          value={view.response}
          options={view.responses.map((one) => [one.name, one.words] as const)}
          onChange={(response) => onAsk({ ...asked, response, unit: "" })}
        />
        <Pick
          label="Order"
          value={order}
          options={[
            ["strength", "by strength"],
            ["plan", "as planned"],
          ]}
          onChange={setOrder}
        />
        {shares && shares.bases.length > 0 && <SharesOf shares={shares} of={of} onChange={setOf} />}
        <Pick
          label="beside it in"
          value={beside}
          options={[
            ["", "nothing else"] as const,
            ...view.unit_options
              .filter((one) => one.symbol !== view.unit.symbol)
              .map((one) => [one.symbol, one.symbol] as const),
          ]}
          onChange={onBeside}
        />
      </div>
      {view.reference && view.response === "strength" && <Earlier view={view} />}
      <Pairs id={id} asked={asked} view={view} />
      <div className="mt-4 flex flex-wrap gap-6">
        <Choice
          label="Compare"
          value={view.block ? "within" : "across"}
          options={[
            ["within", "within boards"],
            ["across", "all together"],
          ]}
          onChange={(choice) => onAsk({ ...asked, within_boards: choice === "within" })}
        />
        {view.controls.length === 1 && (
          <Choice
            label="Each set against"
            value={view.control ? "baseline" : "each"}
            options={[
              ["each", "each other"],
              ["baseline", `the baseline (${view.controls[0]})`],
            ]}
            onChange={(choice) => onAsk({ ...asked, against_control: choice === "baseline" })}
          />
        )}
      </div>
      <Else id={id} asked={asked} view={view} along={along} beside={beside} />
      <details className="mt-4 border-t rule pt-2">
        <summary className="link inline-flex min-h-6 items-center">How the verdict is made</summary>
        <ul className="mt-1 list-disc pl-5">
          {view.method.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </details>
    </>
  );
}

interface SharesProps {
  shares: Schemas["SharesView"];
  of: string;
  onChange: (of: string) => void;
}

/** What every set is a share of: a set, the best, its own solid wood, or what a joint has to carry. */
function SharesOf({ shares, of, onChange }: SharesProps) {
  const [typing, setTyping] = useState(false);
  const known = of === "" ? (shares.bases[0] ?? "") : of;
  return (
    <>
      <Pick
        label="Share of"
        value={typing ? TYPED : known}
        options={[
          ...shares.bases.map((one) => [one, one] as const),
          [TYPED, "what it has to carry …"] as const,
        ]}
        onChange={(chosen) => {
          setTyping(chosen === TYPED);
          if (chosen !== TYPED) onChange(chosen);
        }}
      />
      {typing && (
        <label className="block">
          <span className="label">It has to carry, with its unit</span>
          <input
            className="entry"
            aria-invalid={shares.problem !== ""}
            onKeyDown={(event) => event.key === "Enter" && onChange(event.currentTarget.value)}
            onBlur={(event) => event.currentTarget.value && onChange(event.currentTarget.value)}
          />
        </label>
      )}
      {shares.said?.map((one) => (
        <p key={one} className="w-full">
          {one}
        </p>
      ))}
      {shares.problem && (
        <p role="alert" className="w-full text-iron">
          {shares.problem}
        </p>
      )}
    </>
  );
}

/** Everything else the breaks say: worked out when it is opened. */
function Else({
  id,
  asked,
  view,
  along,
  beside,
}: Omit<SetsProps, "onAsk" | "onBeside" | "selected" | "onSelect">) {
  const [open, setOpen] = useState(false);
  const [wishes, setWishes] = useState<Wishes>({ line: "", weights: "", base: "" });
  const found = useFindings(id, asked, wishes, open);
  const curves = useCurves(id, asked, open && !along);
  return (
    <details className="mt-6 border-t rule pt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="link inline-flex min-h-6 items-center text-lg">
        Everything else the breaks say: averages, who is steadier, curves, shares kept, causes
      </summary>
      {open && !found.data && <p role="status">{found.error?.message ?? "Working it out …"}</p>}
      {!along && <Curves charts={curves.data ?? []} view={view} beside={beside} />}
      {found.data && (
        <Findings view={found.data} kind={view.kind} unit={view.unit} wishes={wishes} onWish={setWishes} />
      )}
    </details>
  );
}

/** The piece that is chosen in the rack or the chart: its number and how it came about. */
function Chosen({ view, selected }: { view: Compare; selected: number | null }) {
  const units = useUnits();
  const dot = view.dots.find((one) => one.piece_id === selected);
  if (!dot) return null;
  const unit = view.unit;
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

/** The set of an earlier trial that was chosen as a reference: beside the results, never in them. */
function Earlier({ view }: { view: Compare }) {
  if (!view.reference) return null;
  const { words, pieces, broken_on, as_read: read } = view.reference;
  const inUnit = (value: number | null) => (value === null ? null : convert(value, view.unit));
  const text = columnDigits([inUnit(read.mean)]);
  return (
    <p className="mt-2 border-l-4 border-rule pl-3">
      For reference, <strong>{words}</strong>: average {text(inUnit(read.mean))}, worst to best{" "}
      {text(inUnit(read.min))} to {text(inUnit(read.max))}, {pieces} pieces, broken from {broken_on}. Other
      boards and another day: it stands beside the results and is not in any verdict.
    </p>
  );
}
