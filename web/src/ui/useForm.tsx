// A form of texts: what stands in it, and a labelled entry for each; the server reads them.
import { useId, useState } from "react";
import type { Schemas } from "../api/client";
import { FaultAt, isFaulty } from "./Trouble";

/** The fields of a form that are typed. */
type Texts<T> = { [K in keyof T & string]: T[K] extends string | undefined ? K : never }[keyof T & string];

export function useForm<T extends object>(start: T, problem: Schemas["Problem"] | null) {
  const [form, setForm] = useState(start);
  const set = (part: Partial<T>) => setForm((now) => ({ ...now, ...part }));
  const prefix = useId();
  const text = (name: Texts<T>, label: string, hint?: string) => (
    <div className="min-w-0">
      <label htmlFor={`${prefix}-${name}`} className="label block">
        {label}
      </label>
      <input
        id={`${prefix}-${name}`}
        aria-describedby={isFaulty(problem, name) ? `${prefix}-${name}-fault` : undefined}
        className="entry"
        value={String(form[name] ?? "")}
        placeholder={hint}
        autoComplete="off"
        aria-invalid={isFaulty(problem, name)}
        onChange={(event) => set({ [name]: event.target.value } as unknown as Partial<T>)}
      />
      <FaultAt id={`${prefix}-${name}-fault`} problem={problem} field={name} />
    </div>
  );
  return { form, set, text };
}
