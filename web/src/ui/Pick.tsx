// A choice of many: the browser's own list, which works with keys, fingers and screen readers.
import { useId } from "react";

interface Props {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  disabled?: boolean;
  hideLabel?: boolean;
  bare?: boolean;
}

export function Pick({ label, value, options, onChange, disabled, hideLabel, bare }: Props) {
  const id = useId();
  return (
    <div className="min-w-0">
      <label htmlFor={id} className={hideLabel ? "sr-only" : "label block"}>
        {label}
      </label>
      <select
        id={id}
        className={bare ? "entry-bare" : "entry"}
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}
