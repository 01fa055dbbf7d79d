// When something happened: now, unless another time is given. Times are local here and UTC everywhere else.
import { useId } from "react";

interface Props {
  label: string;
  value: string | null;
  onChange: (utc: string | null) => void;
}

/** A moment as the browser's own time field writes it, in local time. */
export function toLocal(utc: string): string {
  const moment = new Date(utc);
  return new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

export function When({ label, value, onChange }: Props) {
  const id = useId();
  if (value === null)
    return (
      <p>
        <span className="label block">{label}</span>
        <span className="flex min-h-[44px] items-center gap-3">
          now
          <button type="button" className="link" onClick={() => onChange(new Date().toISOString())}>
            at another time …
          </button>
        </span>
      </p>
    );
  return (
    <div>
      <label htmlFor={id} className="label block">
        {label}
      </label>
      <span className="flex items-center gap-3">
        <input
          id={id}
          type="datetime-local"
          className="entry"
          value={toLocal(value)}
          max={toLocal(new Date().toISOString())}
          onChange={(event) =>
            onChange(event.target.value ? new Date(event.target.value).toISOString() : null)
          }
        />
        <button type="button" className="link" onClick={() => onChange(null)}>
          now
        </button>
      </span>
    </div>
  );
}
