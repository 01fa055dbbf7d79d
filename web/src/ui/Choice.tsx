// A choice of a few, all in sight.
interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  disabled?: boolean;
  hideLabel?: boolean;
}

export function Choice<T extends string>({ label, value, options, onChange, disabled, hideLabel }: Props<T>) {
  return (
    <fieldset className="min-w-0" disabled={disabled}>
      <legend className={hideLabel ? "sr-only" : "label mb-1"}>{label}</legend>
      <div className="flex flex-wrap">
        {options.map(([key, words]) => (
          <button
            key={key}
            type="button"
            aria-pressed={key === value}
            className={`press -ml-[1.5px] first:ml-0 ${key === value ? "press-on" : "press-plain"}`}
            onClick={() => key !== value && onChange(key)}
          >
            {words}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
