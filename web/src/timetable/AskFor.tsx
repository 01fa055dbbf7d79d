// How the timetable is asked for: how exact, how fast, odd hours or not, done by when.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { isFaulty } from "../ui/Trouble";
import { toLocal } from "../ui/When";

interface Props {
  view: Schemas["TimetableView"];
  running: boolean;
  problem: Schemas["Problem"] | null;
  onAsk: (wanted: Schemas["TimetableEntry"]) => void;
}

export function AskFor({ view, running, problem, onAsk }: Props) {
  const [form, setForm] = useState<Schemas["TimetableEntry"]>(view.entry);
  const set = (change: Partial<Schemas["TimetableEntry"]>) => setForm({ ...form, ...change });
  const press = view.tasks.length === 0 ? "Make the timetable" : "Plan the rest anew";
  return (
    <form
      className="mt-2 grid grid-cols-2 items-end gap-x-4 gap-y-2 md:grid-cols-[9rem_9rem_1fr]"
      onSubmit={(event) => {
        event.preventDefault();
        onAsk(form);
      }}
    >
      <label>
        <span className="label block">Clamp time may be off</span>
        <input
          className="entry"
          value={form.give}
          aria-invalid={isFaulty(problem, "give")}
          onChange={(event) => set({ give: event.target.value })}
        />
      </label>
      <label>
        <span className="label block">To break one piece</span>
        <input
          className="entry"
          value={form.break_each}
          aria-invalid={isFaulty(problem, "break_each")}
          onChange={(event) => set({ break_each: event.target.value })}
        />
      </label>
      <label className="min-w-0">
        <span className="label block">Done by, if it must be</span>
        <input
          type="datetime-local"
          className="entry"
          aria-invalid={isFaulty(problem, "finish_by_utc")}
          value={form.finish_by_utc ? toLocal(form.finish_by_utc) : ""}
          onChange={(event) =>
            set({ finish_by_utc: event.target.value ? new Date(event.target.value).toISOString() : null })
          }
        />
      </label>
      <label className="col-span-2 flex min-h-[36px] items-center gap-2 md:col-span-3">
        <input
          type="checkbox"
          className="size-5 accent-layout"
          checked={form.odd_hours}
          onChange={(event) => set({ odd_hours: event.target.checked })}
        />
        Evenings, nights and days off too, where nothing else fits: as few tasks as can be
      </label>
      <button type="submit" className="press press-on col-span-2 justify-self-start" disabled={running}>
        {running ? "Searching …" : press}
      </button>
    </form>
  );
}
