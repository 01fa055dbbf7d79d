// A load as it is read off: the field, what is understood of it, and what is doubtful, each with the key to answer it.
import { useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useUnits } from "../shop/useUnits";
import { digits } from "../ui/format";
import type { KeyMap } from "../ui/keys";

interface Props {
  label: string;
  value: string;
  faulty: boolean;
  understood: Schemas["TypedLoad"] | undefined;
  /** What letters and, after one of them, the digits 0 to 4 mean while the number is being typed. */
  face: KeyMap;
  onChange: (text: string) => void;
  onHeld: () => void;
  onKeep: () => void;
}

const ANSWER_KEYS = ["Y", "Q"];

/** Letters of a face are heard once a number stands there; none of them is part of a unit. */
const isNumber = (text: string) => /\d/.test(text);

export function LoadField({ label, value, faulty, understood, face, onChange, onHeld, onKeep }: Props) {
  const [judging, setJudging] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const { force, show } = useUnits();
  const doubts = understood?.doubts ?? [];
  const answers = doubts.flatMap((doubt) => doubt.answers);
  const hear = (event: React.KeyboardEvent<HTMLInputElement>) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const key = event.key.toUpperCase();
    if (event.key === "Enter") {
      event.preventDefault();
      onKeep();
      return;
    }
    if (event.key === "Backspace" || event.key.startsWith("Arrow")) setJudging(false);
    if (event.key.length !== 1 || !isNumber(value)) return;
    const answer = answers[ANSWER_KEYS.indexOf(key)];
    const isQuarter = /^[0-4]$/.test(key);
    const means = isQuarter && !judging ? undefined : face[key];
    if (answer === undefined && !means) return;
    // B is part of units: while a number is typed it stays a letter
    if (key === "B") return;
    event.preventDefault();
    if (answer !== undefined) onChange(answer);
    else means?.press();
    setJudging(true);
  };
  return (
    <div>
      <label className="block">
        <span className="label">{label}</span>
        <input
          ref={field}
          className="entry mono text-3xl"
          value={value}
          autoFocus
          autoComplete="off"
          enterKeyHint="done"
          aria-invalid={faulty}
          onKeyDown={hear}
          onChange={(event) => {
            setJudging(false);
            onChange(event.target.value);
          }}
        />
      </label>
      <div className="min-h-[5.6rem]" role="status">
        {understood && (
          <>
            <p className="mono mt-1 text-6xl leading-none font-semibold">
              {understood.at_least && "≥ "}
              {understood.held_n !== null && `${digits(understood.held_n * force.per_si)}–`}
              {show(understood.load_n, force)}
            </p>
            <p className="pencil">{understood.words}</p>
          </>
        )}
      </div>
      {doubts.map((doubt) => (
        <p
          key={doubt.code}
          className="flex flex-wrap items-center gap-2 border-l-4 border-amber bg-amber-pale px-3 py-1"
        >
          <span className="grow">{doubt.words.charAt(0).toUpperCase() + doubt.words.slice(1)}</span>
          {doubt.answers.map((answer) => (
            <button key={answer} type="button" className="press" onClick={() => onChange(answer)}>
              {answer}{" "}
              <span className="text-sm font-normal">{ANSWER_KEYS[answers.indexOf(answer)] ?? ""}</span>
            </button>
          ))}
          {doubt.holds && (
            <button type="button" className="press" onClick={onHeld}>
              it held <span className="text-sm font-normal">H</span>
            </button>
          )}
          {doubt === doubts.at(-1) && <span className="pencil text-sm">Enter keeps it as it is</span>}
        </p>
      ))}
    </div>
  );
}
