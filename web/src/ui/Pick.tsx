// A choice of many: the browser's own list, which works with keys, fingers and screen readers.
import { useId } from "react";

/** A closed set as the server offers it, as options. */
export const asOptions = <Key extends string>(offered: readonly { key: Key; words: string }[]) =>
  offered.map((one) => [one.key, one.words] as const);

interface Props<Key extends string> {
  label: string;
  value: Key;
  options: readonly (readonly [Key, string])[];
  onChange: (value: Key) => void;
  disabled?: boolean;
  hideLabel?: boolean;
  bare?: boolean;
  faulty?: boolean;
}

export function Pick<Key extends string>(props: Props<Key>) {
  const { label, value, options, onChange, disabled, hideLabel, bare, faulty } = props;
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
        aria-invalid={faulty}
        disabled={disabled}
        onChange={(event) => onChange(event.target.value as Key)}
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
