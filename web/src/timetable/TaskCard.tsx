// One task of the timetable: when, which pieces, and whether it stays where it is.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { toLocal } from "../ui/When";
import { pinTask } from "./queries";

export function TaskCard({ task }: { task: Schemas["TaskView"] }) {
  const { id, select } = useTrial();
  const act = useAct(id);
  const [begin, setBegin] = useState("");
  return (
    <section className="border-y border-graphite py-2" aria-label="The chosen task">
      <h3 className="text-base">{task.words}</h3>
      <p>
        {dayTime(task.begin_utc)} to {dayTime(task.end_utc)}
        {task.odd ? ", outside working hours" : ""}
        {task.state === "late" ? ", slipped" : task.state === "done" ? ", done" : ""}
      </p>
      <p className="mt-1 flex flex-wrap gap-x-2">
        {task.labels.slice(0, 24).map((label, index) => (
          <button
            key={label}
            type="button"
            className="link mono min-h-6"
            onClick={() => select(task.piece_ids[index] ?? null)}
          >
            {label}
          </button>
        ))}
        {task.labels.length > 24 && `and ${task.labels.length - 24} more`}
      </p>
      {task.can_pin && (
        <div className="mt-2 grid gap-2">
          <button
            type="button"
            className={`press ${task.pinned ? "press-on" : ""}`}
            aria-pressed={task.pinned}
            onClick={() => void act.run(() => pinTask(id, task.id, !task.pinned))}
          >
            {task.pinned ? "Pinned: let it move" : "Pin it where it is"}
          </button>
          <label>
            <span className="label block">or pin it at</span>
            <span className="grid gap-2">
              <input
                type="datetime-local"
                className="entry"
                value={begin || toLocal(task.begin_utc)}
                onChange={(event) => setBegin(event.target.value)}
              />
              <button
                type="button"
                className="press"
                disabled={!begin}
                onClick={() => void act.run(() => pinTask(id, task.id, true, new Date(begin).toISOString()))}
              >
                Pin
              </button>
            </span>
          </label>
          {task.pinned && (
            <p className="text-sm">Plan the rest anew, and the others arrange themselves around it.</p>
          )}
        </div>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}
