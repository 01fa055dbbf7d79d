import { Label, Radio, RadioGroup } from "@headlessui/react";

// A choice of a few, all in sight: one stop of the Tab key, the arrows go through it.
interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  hideLabel?: boolean;
}

export function Choice<T extends string>({ label, value, options, onChange, hideLabel }: Props<T>) {
  return (
    <RadioGroup className="min-w-0" value={value} onChange={onChange}>
      <Label as="p" passive className={hideLabel ? "sr-only" : "label mb-1"}>
        {label}
      </Label>
      <div className="flex flex-wrap">
        {options.map(([key, words]) => (
          <Radio
            key={key}
            value={key}
            className={`press -ml-[1.5px] flex cursor-pointer items-center first:ml-0 ${key === value ? "press-on" : "press-plain"}`}
          >
            {words}
          </Radio>
        ))}
      </div>
    </RadioGroup>
  );
}
