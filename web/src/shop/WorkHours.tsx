// When hands are there: hours of each weekday, days off, how many people, on which clock.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { editHours } from "../timetable/queries";
import { Field } from "../ui/Field";
import { Trouble } from "../ui/Trouble";

export function WorkHours({ hours }: { hours: Schemas["HoursView"] }) {
  const act = useAct();
  const save = (field: string) => async (was: string, now: string) => {
    await editHours(field, was, now);
    await act.run(async () => undefined);
  };
  return (
    <section aria-label="Hours">
      <p className="pencil py-1">
        The timetable puts what takes hands into these hours. Nothing typed is a day off.
      </p>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        {hours.days.map((day, index) => (
          <Field
            key={day}
            label={day}
            value={hours.hours[index] ?? ""}
            placeholder="off"
            onSave={save(`hours_${index}`)}
            draftKey={`hours ${index}`}
          />
        ))}
        <Field label="People" value={String(hours.hands)} onSave={save("hands")} draftKey="hands" />
      </div>
      <div className="mt-3 grid gap-3 sm:grid-cols-2">
        <Field
          label="Days off"
          value={hours.days_off}
          placeholder="2026-12-24 2026-12-25"
          onSave={save("days_off")}
          draftKey="days off"
        />
        <Field
          label="Time zone"
          value={hours.zone}
          placeholder="that of this computer"
          onSave={save("time_zone")}
          draftKey="time zone"
        />
      </div>
      <Trouble problem={act.problem} />
    </section>
  );
}
