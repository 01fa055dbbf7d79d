// The broken face: what happened, torn wood in quarters or any percent, where it failed, a note.
import type { Schemas } from "../api/client";
import type { Judged } from "./queries";

export interface Judgement {
  outcome: "broke" | "held" | "fell_apart" | "";
  torn: string;
  failure: string;
  note: string;
}

export const EMPTY_JUDGEMENT: Judgement = { outcome: "broke", torn: "", failure: "", note: "" };
export const QUARTERS = ["0", "25", "50", "75", "100"];

export const toBody = (judgement: Judgement): Judged => ({
  outcome: judgement.outcome,
  wood_failure: judgement.torn,
  failure: (judgement.failure || null) as Judged["failure"],
  note: judgement.note,
});

interface Props {
  value: Judgement;
  piece: Schemas["BreakPiece"];
  onChange: (value: Judgement) => void;
  children: React.ReactNode;
}

export function JudgeFace({ value, piece, onChange, children }: Props) {
  return (
    <section ref={scrollIntoSight} className="mt-3" aria-label="The broken face">
      <fieldset className="flex flex-wrap gap-2">
        <legend className="sr-only">What happened</legend>
        {piece.outcomes.map(({ key, words }) => (
          <button
            key={key}
            type="button"
            aria-pressed={value.outcome === key}
            className={`press ${value.outcome === key ? "press-on" : "press-plain"}`}
            onClick={() => onChange({ ...value, outcome: key })}
          >
            {words}
          </button>
        ))}
      </fieldset>
      {!piece.solid && value.outcome !== "held" && (
        <fieldset className="mt-2">
          <legend className="label">Torn wood on the broken face</legend>
          <div className="grid grid-cols-[repeat(5,1fr)_7rem] gap-2">
            {["none", "a quarter", "half", "three quarters", "all"].map((words, quarters) => (
              <button
                key={words}
                type="button"
                aria-pressed={value.torn === QUARTERS[quarters]}
                className={`press min-h-[64px] px-1 ${value.torn === QUARTERS[quarters] ? "press-on" : "press-plain"}`}
                onClick={() => onChange({ ...value, torn: QUARTERS[quarters] ?? "" })}
              >
                {words}
                <TornBar share={quarters / 4} />
                <span className="block text-sm font-normal">{quarters}</span>
              </button>
            ))}
            <label className="self-end">
              <span className="label">or percent</span>
              <input
                className="entry"
                inputMode="decimal"
                value={value.torn}
                onChange={(e) => onChange({ ...value, torn: e.target.value })}
              />
            </label>
          </div>
        </fieldset>
      )}
      {value.outcome !== "held" && (
        <fieldset className="mt-2 flex flex-wrap items-center gap-2">
          <legend className="sr-only">It failed in</legend>
          <span className="label w-20" aria-hidden="true">
            It failed in
          </span>
          {piece.failures.map(({ key, words }) => (
            <button
              key={key}
              type="button"
              aria-pressed={value.failure === key}
              className={`press ${value.failure === key ? "press-on" : "press-plain"}`}
              onClick={() => onChange({ ...value, failure: value.failure === key ? "" : key })}
            >
              {words}
            </button>
          ))}
        </fieldset>
      )}
      <label className="mt-2 flex items-center gap-2">
        <span className="label w-20 shrink-0">Note</span>
        <input
          className="entry"
          value={value.note}
          onChange={(event) => onChange({ ...value, note: event.target.value })}
        />
      </label>
      <div className="mt-3 flex flex-wrap gap-3">{children}</div>
    </section>
  );
}

/** The break is found by itself: the next thing to do comes into sight by itself too. */
const scrollIntoSight = (element: HTMLElement | null) => element?.scrollIntoView({ block: "nearest" });

const TornBar = ({ share }: { share: number }) => (
  <span className="mx-auto mt-1 block h-[7px] w-4/5 border border-graphite bg-sheet" aria-hidden="true">
    <span className="block h-full bg-torn" style={{ width: `${100 * share}%` }} />
  </span>
);
