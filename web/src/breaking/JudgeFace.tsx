// The broken face: what happened, torn wood in quarters or any percent, where it failed, a note.
import type { Schemas } from "../api/client";
import type { KeyMap } from "../ui/keys";

export interface Judgement {
  outcome: Schemas["PullOutcome"] | "";
  torn: string;
  failure: Schemas["FailedIn"] | "";
  note: string;
}

export const EMPTY_JUDGEMENT: Judgement = { outcome: "broke", torn: "", failure: "", note: "" };
const QUARTERS = ["0", "25", "50", "75", "100"];
const QUARTER_WORDS = ["none", "a quarter", "half", "three quarters", "all"];

/** One letter each, none of which stands in a unit: they work while a load is being typed. */
const FAILURE_KEYS: Record<Schemas["FailedIn"], string> = {
  glue_line: "E",
  wood: "W",
  both: "V",
  fixture: "J",
};
export const OUTCOME_KEYS: Record<Schemas["PullOutcome"], string> = { broke: "B", held: "H", fell_apart: "" };

export const toBody = (judgement: Judgement): Schemas["Judgement"] => ({
  outcome: judgement.outcome,
  wood_failure: judgement.torn,
  failure: judgement.failure || null,
  note: judgement.note,
});

/** The keys of a face: quarters of torn wood, where it failed, what happened. */
export function faceKeys(value: Judgement, piece: Judged, onChange: (value: Judgement) => void): KeyMap {
  const keys: KeyMap = {};
  if (!piece.solid)
    QUARTER_WORDS.forEach((words, quarters) => {
      keys[String(quarters)] = {
        words: `torn wood: ${words}`,
        press: () => onChange({ ...value, torn: QUARTERS[quarters] ?? "" }),
      };
    });
  for (const { key, words } of piece.failures)
    keys[FAILURE_KEYS[key]] = {
      words: `it failed in ${words}`,
      press: () => onChange({ ...value, failure: key }),
    };
  for (const { key, words } of piece.outcomes)
    if (OUTCOME_KEYS[key])
      keys[OUTCOME_KEYS[key]] = { words, press: () => onChange({ ...value, outcome: key }) };
  return keys;
}

/** What of a piece decides how its face is judged. */
type Judged = Pick<Schemas["BreakPiece"], "solid" | "failures" | "outcomes">;

interface Props {
  value: Judgement;
  piece: Judged;
  onChange: (value: Judgement) => void;
  note?: boolean;
  children: React.ReactNode;
}

export function JudgeFace({ value, piece, onChange, note = true, children }: Props) {
  return (
    <section ref={scrollIntoSight} className="mt-3" aria-label="The broken face">
      <div data-enter="goes-on">
        <fieldset className="flex flex-wrap gap-2">
          <legend className="sr-only">What happened</legend>
          {piece.outcomes.map(({ key, words }) => (
            <Press
              key={key}
              on={value.outcome === key}
              letter={OUTCOME_KEYS[key]}
              onPress={() => onChange({ ...value, outcome: key })}
            >
              {words}
            </Press>
          ))}
        </fieldset>
        {!piece.solid && value.outcome !== "held" && (
          <fieldset className="mt-2">
            <legend className="label">Torn wood on the broken face</legend>
            <div className="grid grid-cols-[repeat(5,1fr)_5rem] gap-2">
              {QUARTER_WORDS.map((words, quarters) => (
                <button
                  key={words}
                  type="button"
                  aria-pressed={value.torn === QUARTERS[quarters]}
                  className={`press min-h-[64px] px-0 text-[0.95rem] ${value.torn === QUARTERS[quarters] ? "press-on" : "press-plain"}`}
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
              <Press
                key={key}
                on={value.failure === key}
                letter={FAILURE_KEYS[key]}
                onPress={() => onChange({ ...value, failure: value.failure === key ? "" : key })}
              >
                {words}
              </Press>
            ))}
          </fieldset>
        )}
      </div>
      {note && (
        <label className="mt-2 flex items-center gap-2">
          <span className="label w-20 shrink-0">Note</span>
          <input
            className="entry"
            value={value.note}
            onChange={(event) => onChange({ ...value, note: event.target.value })}
          />
        </label>
      )}
      <div className="mt-3 flex flex-wrap gap-3">{children}</div>
    </section>
  );
}

interface PressProps {
  on: boolean;
  letter: string;
  onPress: () => void;
  children: React.ReactNode;
}

const Press = ({ on, letter, onPress, children }: PressProps) => (
  <button
    type="button"
    aria-pressed={on}
    className={`press ${on ? "press-on" : "press-plain"}`}
    onClick={onPress}
  >
    {children}
    {letter && (
      <span className="ml-2 text-sm font-normal" aria-hidden="true">
        {letter}
      </span>
    )}
  </button>
);

/** The break is found by itself: the next thing to do comes into sight by itself too. */
const scrollIntoSight = (element: HTMLElement | null) => element?.scrollIntoView({ block: "nearest" });

const TornBar = ({ share }: { share: number }) => (
  <span className="mx-auto mt-1 block h-[7px] w-4/5 border border-graphite bg-sheet" aria-hidden="true">
    <span className="block h-full bg-torn" style={{ width: `${100 * share}%` }} />
  </span>
);
