// A small question with a typed answer (a reason, mostly), over the screen; Escape leaves it. What was typed stays until it
// is taken: what is wrong with it is said under it.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Frame } from "./Frame";
import { Trouble } from "./Trouble";

interface Props {
  title: string;
  label: string;
  suggestions?: readonly string[];
  press: string;
  start?: string;
  allowEmpty?: boolean;
  /** Carries out what was answered, and says whether it was taken. */
  onAnswer: (text: string) => Promise<boolean>;
  /** What was wrong with the last answer. */
  problem?: Schemas["Problem"] | null;
  onClose: () => void;
}

export function Ask({
  title,
  label,
  suggestions = [],
  press,
  start = "",
  allowEmpty = false,
  onAnswer,
  problem = null,
  onClose,
}: Props) {
  const [text, setText] = useState(start);
  // while an answer is carried out the screen behind goes on to the next piece: the question stays that which was asked
  const [asked] = useState({ title, label });
  const [tried, setTried] = useState(false);
  const [busy, setBusy] = useState(false);
  const answer = async (words: string) => {
    if (busy) return;
    setBusy(true);
    const taken = await onAnswer(words).finally(() => setBusy(false));
    setTried(true);
    if (taken) onClose();
  };
  return (
    <Frame title={asked.title} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim() || allowEmpty) void answer(text);
        }}
      >
        <label className="grid gap-1">
          <span className="label">{asked.label}</span>
          <input
            className="entry"
            value={text}
            data-autofocus
            autoFocus
            maxLength={300}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        {suggestions.length > 0 && (
          <div className="flex flex-wrap gap-2">
            {suggestions.map((words) => (
              <button
                key={words}
                type="button"
                className="press press-plain text-sm"
                onClick={() => void answer(words)}
              >
                {words}
              </button>
            ))}
          </div>
        )}
        {tried && <Trouble problem={problem} />}
        <div className="flex gap-3">
          <button type="submit" className="press press-on" disabled={!text.trim() && !allowEmpty}>
            {press}
          </button>
          <button type="button" className="press press-plain" onClick={onClose}>
            Leave it
          </button>
        </div>
      </form>
    </Frame>
  );
}
