// The sets in numbers, strongest first: one narrow table; every number leads to its pieces.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { SetTraces } from "../breaking/SetTraces";
import { columnDigits, convert, digits } from "../ui/format";
import { HowWords } from "./HowWeKnow";

type Compare = Schemas["CompareView"];
type Column = "typical" | "share" | "worst" | "scatter" | "19 in 20 above" | "alike" | More;
type More = "average" | "middle" | "best" | "likely range" | "torn";

const FEW: readonly Column[] = ["typical", "share", "worst", "scatter", "19 in 20 above", "alike"];
const ALL: readonly Column[] = [
  "average", "typical", "likely range", "share", "middle", "worst", "best", "scatter", "torn", "19 in 20 above",
  "alike",
]; // biome-ignore format: one line of words

const MANY = 12;

interface Props {
  view: Compare;
  groups: Schemas["Group"][];
  shares: Schemas["SharesView"] | undefined;
  /** What the typical one is read in as well; empty for nothing. */
  beside: string;
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

export function Ranking({ view, groups, shares, beside, selected, onSelect }: Props) {
  const [all, setAll] = useState(false);
  const [asking, setAsking] = useState<Column | "">("");
  const [opened, setOpened] = useState("");
  const how = view.how[asking];
  const unit = view.unit;
  const other = view.unit_options.find((one) => one.symbol === beside);
  const inUnit = (value: number | null) => (value === null ? null : convert(value, unit));
  const text = columnDigits(groups.map((group) => inUnit(group.as_read.mean)));
  const shareOf = new Map(shares?.rows.map((one) => [one.level, one]));
  const use = new Map(view.use.map((one) => [one.name, one]));
  const typical = (group: Schemas["Group"]) => {
    if (group.at_least !== null) return `at least ${text(inUnit(group.at_least))}`;
    if (group.at_most !== null) return `at most ${text(inUnit(group.at_most))}`;
    return group.typical === null
      ? (view.spans[group.level]?.replace(` ${unit.symbol}`, "") ?? "–")
      : text(inUnit(group.typical));
  };
  const cell = (group: Schemas["Group"], column: Column): string => {
    const read = group.as_read;
    const share = shareOf.get(group.level);
    switch (column) {
      case "typical":
        return typical(group);
      case "share":
        return share?.range ? `${share.share} (${share.range})`.replace(/^ /, "") : share?.share || "–";
      case "average":
        return text(inUnit(read.mean));
      case "middle":
        return text(inUnit(read.median));
      case "worst":
        return text(inUnit(read.min));
      case "best":
        return text(inUnit(read.max));
      case "scatter":
        return read.cv_pct === null ? "–" : `${read.cv_pct.toFixed(0)} %`;
      case "torn":
        return group.wood_failure_pct === null ? "–" : `${group.wood_failure_pct.toFixed(0)} %`;
      case "likely range":
        return group.typical_ci95
          ? `${text(inUnit(group.typical_ci95[0]))} to ${text(inUnit(group.typical_ci95[1]))}`
          : "–";
      case "19 in 20 above":
        return text(inUnit(group.lower_5pct));
      case "alike":
        return group.letters ?? "–";
    }
  };
  const columns = (all ? ALL : FEW).filter((one) => groups.some((group) => cell(group, one) !== "–"));
  const heading = (column: Column) => (column === "share" && shares ? `of ${shares.of}` : column);
  const bounds = groups.some((group) => group.n_broke < group.n);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keys
    <section className={all ? "overflow-x-auto" : ""} aria-label="The sets in numbers" tabIndex={0}>
      <table className={`plain dense tight mt-3 ${groups.length > MANY ? "packed" : ""}`}>
        <caption className="sr-only">The sets in numbers, {unit.symbol}</caption>
        <thead>
          <tr>
            <th>{unit.symbol}</th>
            <th>pieces</th>
            {columns.map((name) => (
              <th key={name} className={name === "share" ? "max-w-40 truncate" : ""}>
                <button
                  type="button"
                  className={`min-h-6 underline decoration-dotted ${asking === name ? "text-layout" : ""}`}
                  aria-expanded={asking === name}
                  onClick={() => setAsking(asking === name ? "" : name)}
                >
                  {heading(name)}
                </button>
              </th>
            ))}
            {other && <th>{other.symbol}</th>}
          </tr>
        </thead>
        <tbody>
          {groups.map((group) => {
            const counts = use.get(group.level);
            return (
              <tr key={group.level} className={opened === group.level ? "bg-layout-pale" : ""}>
                <td className="head">
                  <button
                    type="button"
                    className="min-h-6 text-left underline decoration-dotted"
                    aria-expanded={opened === group.level}
                    onClick={() => setOpened(opened === group.level ? "" : group.level)}
                  >
                    {group.level}
                  </button>
                </td>
                <td>{counts && counts.planned !== group.n ? `${group.n} of ${counts.planned}` : group.n}</td>
                {columns.map((name) => (
                  <td key={name} className={name === "typical" ? "font-semibold" : ""}>
                    {cell(group, name)}
                  </td>
                ))}
                {other && <td>{group.typical === null ? "–" : digits(convert(group.typical, other))}</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="pencil mt-1 text-sm">
        <button type="button" className="link min-h-6" onClick={() => setAll(!all)}>
          {all ? "Fewer columns" : "More columns"}
        </button>
        . Choose a set to see its pieces, a heading to ask how its numbers are known
        {bounds && "; average, middle, worst and scatter take bounds at their value"}.
      </p>
      {how && (
        <div className="mt-1 text-sm" role="status">
          <HowWords how={how} />
        </div>
      )}
      {asking === "share" && shares && <p className="mt-1 text-sm">{shares.how}.</p>}
      {opened && (
        <PiecesOf view={view} level={opened} use={use.get(opened)} selected={selected} onSelect={onSelect} />
      )}
    </section>
  );
}

interface PiecesProps {
  view: Compare;
  level: string;
  use: Schemas["TreatmentUse"] | undefined;
  selected: number | null;
  onSelect: (pieceId: number) => void;
}

/** The pieces behind the numbers of a set, weakest first, each with the way to its making, trace and corrections. */
function PiecesOf({ view, level, use, selected, onSelect }: PiecesProps) {
  const [traced, setTraced] = useState(false);
  const value = (one: Schemas["Dot"]) => one.strength ?? one.held_strength ?? -1;
  const pieces = view.dots.filter((one) => one.treatment === level).sort((a, b) => value(a) - value(b));
  return (
    <section className="mt-2 border-l-4 border-layout pl-3" aria-label={`The pieces of ${level}`}>
      <ul className="grid gap-x-4 sm:grid-cols-2">
        {pieces.map((one) => (
          <li key={one.piece_id} className={one.piece_id === selected ? "bg-layout-pale" : ""}>
            <button
              type="button"
              className="link mono min-h-6 font-semibold"
              onClick={() => onSelect(one.piece_id)}
            >
              {one.label}
            </button>{" "}
            {one.outcome === "broke" ? "" : `${one.outcome_words} `}
            {one.strength === null ? "" : `${digits(convert(one.strength, view.unit))} ${view.unit.symbol}`}
            <span className="pencil text-sm">
              {one.board && `, ${one.board}`}
              {one.wood_failure_pct !== null && `, ${one.wood_failure_pct} % torn`}
              {one.excluded && `, set aside: ${one.excluded}`}
            </span>{" "}
            <Link className="link text-sm" to={`../break?piece=${one.piece_id}`}>
              break
            </Link>{" "}
            <Link className="link text-sm" to={`../history?piece=${one.piece_id}`}>
              history
            </Link>
          </li>
        ))}
      </ul>
      {use?.traced && (
        <button
          type="button"
          className="link min-h-6"
          aria-expanded={traced}
          onClick={() => setTraced(!traced)}
        >
          All its pulls over one another
        </button>
      )}
      {use && traced && <SetTraces treatmentId={use.id} />}
    </section>
  );
}
