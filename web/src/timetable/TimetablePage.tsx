// The timetable: who does what when, solved for the earliest finish; drawn as lanes, listed by day, pinned, planned anew.
import { useState } from "react";
import { ProblemError, type Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useOpenShop } from "../app/shopContext";
import { Station, useTrial } from "../app/TrialShell";
import { Lanes } from "../drawings/Lanes";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { AskFor } from "./AskFor";
import { HandList } from "./HandList";
import { makeTimetable, removeTimetable, useTimetable } from "./queries";
import { TaskCard } from "./TaskCard";

type View = Schemas["TimetableView"];

export function TimetablePage() {
  const { id } = useTrial();
  const timetable = useTimetable(id);
  if (!timetable.data)
    return <Station aside={null}>{timetable.isError ? timetable.error.message : "Opening …"}</Station>;
  return <Loaded view={timetable.data} />;
}

function Loaded({ view }: { view: View }) {
  const { id, selected, select } = useTrial();
  const act = useAct(id);
  const openShop = useOpenShop();
  const now = useNow(30_000);
  const [chosenId, setChosenId] = useState<number | null>(null);
  const [found, setFound] = useState<Schemas["Found"] | null>(null);
  const [running, setRunning] = useState(false);
  const [problem, setProblem] = useState<Schemas["Problem"] | null>(null);
  const chosen = view.tasks.find((task) => task.id === chosenId) ?? null;
  const choose = (task: Schemas["TaskView"]) => {
    setChosenId(task.id);
    select(task.piece_ids[0] ?? null);
  };
  const search = async (wanted: Schemas["TimetableEntry"]) => {
    setProblem(null);
    setFound(null);
    setRunning(true);
    try {
      await makeTimetable(id, wanted, setFound);
      await act.run(async () => undefined);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setProblem(error.problem);
    } finally {
      setRunning(false);
    }
  };
  return (
    <Station aside={<SoWhat view={view} found={running ? null : found} chosen={chosen} />}>
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 className="text-2xl">The timetable</h2>
        {view.solved_utc && <span className="pencil text-sm">made {dayTime(view.solved_utc)}</span>}
      </div>
      <AskFor
        key={JSON.stringify(view.entry)}
        view={view}
        running={running}
        problem={problem}
        onAsk={(wanted) => void search(wanted)}
      />
      {running && (
        <p role="status" className="mt-2 border-l-4 border-layout pl-3">
          {found?.finish_utc ? (
            <>
              Best so far: done <strong>{dayTime(found.finish_utc)}</strong>
              {found.odd > 0 && `, ${found.odd} at odd hours`}; {found.words}.
            </>
          ) : (
            (found?.words ?? "Searching …")
          )}
        </p>
      )}
      <Trouble problem={problem} />
      {!running && found?.remedies && (
        <div role="alert" className="mt-3 border-l-4 border-iron bg-plaster px-3 py-2">
          <p className="font-semibold">{found.words}</p>
          <ul className="mt-1 list-disc pl-5">
            {found.remedies.map(({ words, entry }) => (
              <li key={words}>
                {words}{" "}
                {entry ? (
                  <button type="button" className="link" onClick={() => void search(entry)}>
                    Make it so
                  </button>
                ) : (
                  <button type="button" className="link" onClick={openShop}>
                    In the shop
                  </button>
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
      {view.tasks.length > 0 && (
        <>
          <Lanes
            lanes={view.lanes}
            tasks={view.tasks}
            windows={view.windows}
            now={now}
            chosen={chosenId}
            selected={selected}
            onChoose={choose}
          />
          <HandList tasks={view.tasks} chosen={chosenId} onChoose={choose} />
          <p className="mt-4">
            <button type="button" className="link" onClick={() => void act.run(() => removeTimetable(id))}>
              Take the timetable away
            </button>
          </p>
        </>
      )}
      <Trouble problem={act.problem} />
    </Station>
  );
}

interface SoWhatProps {
  view: View;
  found: Schemas["Found"] | null;
  chosen: Schemas["TaskView"] | null;
}

function SoWhat({ view, found, chosen }: SoWhatProps) {
  const openShop = useOpenShop();
  const failed = found?.remedies != null;
  return (
    <>
      {view.finish_utc && (
        <section>
          <h3 className="text-xl">Done {dayTime(view.finish_utc)}</h3>
          {failed && <p className="mt-1">This is the timetable from before; the new one does not fit.</p>}
          {view.words.map((words) => (
            <p key={words} className="mt-1">
              {words}
            </p>
          ))}
        </section>
      )}
      {view.late > 0 && (
        <p>
          <strong className="text-iron">
            {view.late} {view.late === 1 ? "task has" : "tasks have"} slipped.
          </strong>{" "}
          Plan the rest anew: what has happened stays as it was.
        </p>
      )}
      {chosen && <TaskCard task={chosen} />}
      {view.assumed.map((words) => (
        <p key={words} className="border-t rule pt-2">
          {words}
        </p>
      ))}
      <p className="border-t rule pt-2 text-sm">
        Hands, working hours and days off are those of{" "}
        <button type="button" className="link" onClick={openShop}>
          the shop
        </button>
        ; clamps are those of its shelf. Pieces that other trials hold in clamps are not counted.{" "}
        <a className="link" href="/api/calendar.ics">
          As a calendar
        </a>
        , with alarms.
      </p>
    </>
  );
}
