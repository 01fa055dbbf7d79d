// A trial over years: which panels are pulled when, what is left of them, what is kept in reserve.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { longDay } from "../ui/format";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { takePanel } from "./queries";

type PullDate = Schemas["PullDate"];

export function Pulls({ pulls }: { pulls: Schemas["PullDates"] }) {
  if (pulls.dates.length === 0) return null;
  return (
    <section className="mb-6" aria-label="Dates over the years">
      <h2 className="border-b rule pb-1 text-xl">Dates over the years</h2>
      <p className="pencil text-sm">
        A panel is one piece of every set that shares an age; its pieces are pulled together.
      </p>
      <table className="plain mt-1">
        <thead>
          <tr>
            <th>age</th>
            <th className="!text-left">pulled on</th>
            <th className="!text-left">panels</th>
            <th>left</th>
          </tr>
        </thead>
        <tbody>
          {pulls.dates.map((one) => (
            <tr key={one.level_id}>
              <td className="head">{one.words}</td>
              <td className="!text-left">
                {one.broken_on.length > 0 && (
                  <span className="block">
                    {one.broken_on.map((day) => `${longDay(day)} ${day.slice(0, 4)}`).join("; ")}
                  </span>
                )}
                {(one.broken_on.length === 0 || one.panels.some((panel) => !isPulled(panel))) && (
                  <span className={one.broken_on.length > 0 ? "pencil text-sm" : ""}>
                    {one.broken_on.length > 0 && "planned: "}
                    {sayWhen(one)}
                  </span>
                )}
              </td>
              <td className="!text-left">
                {one.panels.map((panel) => (
                  <span key={panel.number} className="mr-3 inline-block" title={panel.labels.join(", ")}>
                    <span className={isPulled(panel) ? "pencil line-through" : "font-semibold"}>
                      {panel.number}
                    </span>
                    {panel.lacks.length > 0 && <> (no {panel.lacks.join(", no ")})</>}
                  </span>
                ))}
              </td>
              <td>{one.panels.filter((panel) => !isPulled(panel)).length}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2">{pulls.words}</p>
      {pulls.next && <p className="mt-1">{pulls.next}</p>}
      <TakePanel dates={pulls.dates} />
    </section>
  );
}

const isPulled = (panel: Schemas["PanelLine"]) => panel.labels.length > 0 && panel.broken > 0;

function sayWhen(one: PullDate): string {
  if (one.due_utc) return `${longDay(one.due_utc)} ${one.due_utc.slice(0, 4)}`;
  return one.words === "reserve" ? "no date: kept for one" : "once it is glued";
}

/** Pull a panel at another age than planned: one of the reserve for a spoiled one, or for one more look. */
function TakePanel({ dates }: { dates: PullDate[] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const { form, text, set } = useForm({ panel: "", age: "", reason: "" }, act.problem);
  const free = dates
    .flatMap((date) => date.panels.map((panel) => ({ date, panel })))
    .filter(({ panel }) => panel.broken === 0 && panel.labels.length > 0)
    .sort((a, b) => Number(b.date.due_utc === null) - Number(a.date.due_utc === null));
  if (free.length === 0) return null;
  const chosen = free.find(({ panel }) => String(panel.number) === form.panel) ?? free[0];
  const ages = dates.filter((one) => one.level_id !== chosen?.date.level_id);
  const age = ages.find((one) => String(one.level_id) === form.age) ?? ages[0];
  if (!chosen || !age) return null;
  return (
    <details className="mt-2">
      <summary className="link min-h-9">Pull a panel at another age</summary>
      <form
        className="mt-2 grid items-end gap-3 sm:grid-cols-2"
        onSubmit={async (event) => {
          event.preventDefault();
          const moved = () => takePanel(id, chosen.panel.number, age.level_id, form.reason);
          if (await act.run(moved)) set({ panel: "", reason: "" });
        }}
      >
        <Pick
          label="Panel"
          value={String(chosen.panel.number)}
          options={free.map(
            ({ date, panel }) =>
              [String(panel.number), `${panel.number}, planned for ${date.words}`] as const,
          )}
          onChange={(panel) => set({ panel })}
        />
        <Pick
          label="is pulled at"
          value={String(age.level_id)}
          options={ages.map((one) => [String(one.level_id), one.words] as const)}
          onChange={(age) => set({ age })}
        />
        {text("reason", "Why (it stays beside the result)", "panel 3 fell off the rack in a storm")}
        <button type="submit" className="press" disabled={act.busy}>
          Move panel {chosen.panel.number}
        </button>
        <Trouble problem={act.problem} />
      </form>
    </details>
  );
}
