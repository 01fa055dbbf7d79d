// A small question with a typed answer (a reason, mostly), over the screen; Escape leaves it.
import { useState } from "react";
import { Frame } from "./Frame";

interface Props {
  title: string;
  label: string;
  suggestions?: readonly string[];
  press: string;
  start?: string;
  allowEmpty?: boolean;
  onAnswer: (text: string) => void;
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
  onClose,
}: Props) {
  const [text, setText] = useState(start);
  const answer = (given: string) => {
    onAnswer(given);
    onClose();
  };
  return (
    <Frame title={title} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim() || allowEmpty) answer(text);
        }}
      >
        <label className="grid gap-1">
          <span className="label">{label}</span>
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
                onClick={() => answer(words)}
              >
                {words}
              </button>
            ))}
          </div>
        )}
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
