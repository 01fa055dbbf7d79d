// What hands do, day by day: the timetable as a list, for reading and for keys.
import type { Schemas } from "../api/client";
import { clockTime, longDay, someLabels } from "../ui/format";

type Task = Schemas["TaskView"];
const SHOWN = 60;

interface Props {
  tasks: Task[];
  chosen: number | null;
  onChoose: (task: Task) => void;
}

export function HandList({ tasks, chosen, onChoose }: Props) {
  const mine = tasks.filter((task) => task.by_hand && task.state !== "done");
  const days = [...Map.groupBy(mine.slice(0, SHOWN), (task) => longDay(task.begin_utc))];
  return (
    <section className="mt-5" aria-label="What hands do, day by day">
      {days.map(([day, list]) => (
        <div key={day}>
          <h3 className="mt-3 border-b rule pb-1 text-lg">{day}</h3>
          {list.map((task) => (
            <button
              key={task.id}
              type="button"
              aria-pressed={task.id === chosen}
              className={`grid min-h-[44px] w-full grid-cols-[8rem_1fr_auto] items-center gap-3 border-b rule text-left ${task.id === chosen ? "bg-layout-pale" : ""}`}
              onClick={() => onChoose(task)}
            >
              <span className="mono whitespace-nowrap">
                {clockTime(task.begin_utc)}–{clockTime(task.end_utc)}
              </span>
              <span>
                {task.words} <span className="mono pencil text-sm">{someLabels(task.labels)}</span>
              </span>
              <span className="text-sm">
                {task.state === "late" && <strong className="text-iron">late </strong>}
                {task.odd && "odd hour "}
                {task.pinned && "pinned"}
              </span>
            </button>
          ))}
        </div>
      ))}
      {mine.length > SHOWN && (
        <p className="pencil mt-2">And {mine.length - SHOWN} more tasks after these.</p>
      )}
    </section>
  );
}
