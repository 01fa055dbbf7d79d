// One entry of anything: keeps a draft until it is saved, says what is wrong, offers what could be meant.
import { useEffect, useId, useRef, useState } from "react";
import { ProblemError, type Schemas } from "../api/client";

interface Props {
  label: string;
  value: string;
  onSave: (was: string, now: string) => Promise<unknown>;
  draftKey?: string;
  hint?: string;
  bare?: boolean;
  big?: boolean;
  placeholder?: string;
  hideLabel?: boolean;
  disabled?: boolean;
  onEnter?: () => void;
  inputRef?: React.Ref<HTMLInputElement>;
  saveWhileTyping?: boolean;
  /** long words wrap; Enter saves all the same */
  wraps?: boolean;
}

const PAUSE_MS = 700;

const readDraft = (key?: string) => (key ? localStorage.getItem(`draft ${key}`) : null);

function keepDraft(key: string | undefined, draft: string | null): void {
  if (!key) return;
  if (draft === null) localStorage.removeItem(`draft ${key}`);
  else localStorage.setItem(`draft ${key}`, draft);
}

export function Field(props: Props) {
  const { label, value, onSave, draftKey, bare, big, saveWhileTyping = true } = props;
  const [draft, setDraft] = useState<string | null>(() => readDraft(draftKey));
  const [problem, setProblem] = useState<Schemas["Problem"] | null>(null);
  const base = useRef(value);
  const underWay = useRef<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const id = useId();

  useEffect(() => () => clearTimeout(timer.current), []);

  const type = (text: string) => {
    if (draft === null) base.current = value;
    setDraft(text);
    keepDraft(draftKey, text);
    clearTimeout(timer.current);
    if (saveWhileTyping) timer.current = setTimeout(() => save(text), PAUSE_MS);
  };

  const save = async (text: string | null): Promise<void> => {
    clearTimeout(timer.current);
    if (text === null || text === underWay.current) return;
    if (text.trim() === base.current.trim()) {
      settle(null);
      return;
    }
    underWay.current = text;
    try {
      await onSave(base.current, text);
      settle(text);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setProblem(error.problem);
    } finally {
      underWay.current = null;
    }
  };

  const settle = (saved: string | null) => {
    setProblem(null);
    keepDraft(draftKey, null);
    setDraft((now) => (saved !== null && now !== null && now !== saved ? now : null));
  };

  const choose = (text: string) => {
    if (problem?.code === "stale-edit") {
      settle(null);
      setDraft(null);
    } else {
      setDraft(text);
      void save(text);
    }
  };

  const entry = {
    id,
    className: `${bare ? "entry-bare" : "entry"} ${big ? "text-2xl font-semibold" : ""} ${props.wraps ? "field-sizing-content resize-none" : ""}`,
    value: draft ?? value,
    placeholder: props.placeholder,
    disabled: props.disabled,
    autoComplete: "off",
    "aria-invalid": problem !== null,
    "aria-describedby": problem ? `${id}-problem` : undefined,
    onChange: (event: React.ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => type(event.target.value),
    onBlur: () => void save(draft),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.key === "Escape") {
        setDraft(null);
        settle(null);
      }
      if (event.key !== "Enter") return;
      event.preventDefault();
      void save(draft);
      props.onEnter?.();
    },
  };
  return (
    <div className="min-w-0">
      <label htmlFor={id} className={props.hideLabel ? "sr-only" : "label block"}>
        {label}
      </label>
      <div className="flex items-baseline gap-2">
        {props.wraps ? <textarea rows={1} {...entry} /> : <input {...entry} ref={props.inputRef} />}
        {props.hint && <span className="pencil shrink-0 text-sm">{props.hint}</span>}
      </div>
      {problem && (
        <div
          id={`${id}-problem`}
          role="alert"
          className="mt-1 border-l-4 border-iron bg-iron-pale px-2 py-1 text-sm"
        >
          {problem.detail}
          {problem.choices && problem.choices.length > 0 && (
            <span className="mt-1 flex flex-wrap gap-2">
              {problem.choices.map((choice) => (
                <button
                  key={choice}
                  type="button"
                  className="press text-sm"
                  onMouseDown={(event) => event.preventDefault()}
                  onClick={() => choose(choice)}
                >
                  {problem.code === "stale-edit" ? `Take “${choice}”` : choice}
                </button>
              ))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
