// Correcting a kept break: what stands there, what is right, and why; the old values stay beside the new ones.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { asOptions, Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { When } from "../ui/When";
import { correctBreak } from "./queries";

interface Props {
  piece: Schemas["BreakPiece"];
  pull: Schemas["PullView"];
  values: Schemas["BreakValues"];
  onDone: () => void;
}

export function Correct({ piece, pull, values, onDone }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const [was] = useState(values);
  const { form, set, text } = useForm(was, act.problem);
  const [reason, setReason] = useState("");
  const save = async () => {
    if (await act.run(() => correctBreak(id, pull.id, { was, now: form, reason }))) onDone();
  };
  return (
    <form
      className="my-3 grid items-start gap-3 border-l-4 border-layout pl-3 sm:grid-cols-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {pull.source === "hand" && text("load", "Load, as typed")}
      <Pick
        label="What happened"
        value={form.outcome}
        options={asOptions(piece.outcomes)}
        onChange={(outcome) => set({ outcome })}
      />
      {!piece.solid && text("wood_failure", "Torn wood, percent")}
      <Pick
        label="It failed in"
        value={form.failure ?? ""}
        options={[["", "not said"], ...asOptions(piece.failures)]}
        onChange={(failure) => set({ failure: failure || null })}
      />
      {(form.sizes ?? []).map((size, at) => (
        <label key={size.name}>
          <span className="label block">
            {piece.sizes.find((one) => one.name === size.name)?.words ?? size.name}, measured
          </span>
          <input
            className="entry"
            value={size.typed}
            autoComplete="off"
            onChange={(event) =>
              set({
                sizes: (form.sizes ?? []).map((one, other) =>
                  other === at ? { ...one, typed: event.target.value } : one,
                ),
              })
            }
          />
        </label>
      ))}
      {text("note", "Note")}
      <When
        label="It broke"
        value={form.broken_at}
        onChange={(at) => set({ broken_at: at ?? was.broken_at })}
      />
      <label className="sm:col-span-2">
        <span className="label block">Why it is corrected</span>
        <input
          className="entry"
          value={reason}
          placeholder="digits swapped; read the wrong line"
          aria-invalid={act.problem?.field === "reason"}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <div className="sm:col-span-2">
        <Trouble problem={act.problem} />
      </div>
      <button type="submit" className="press press-on" disabled={act.busy}>
        Correct it
      </button>
      <button type="button" className="press press-plain" onClick={onDone}>
        Leave it
      </button>
    </form>
  );
}
