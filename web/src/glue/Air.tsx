// The air of the shop from a logger's file, laid over the glue-ups.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { layAirOver, takeAirAway, useAirLogs } from "../shop/queries";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";

export function Air({ making }: { making: Schemas["MakingView"] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const logs = useAirLogs();
  const numbers = new Map(making.batches.map((batch) => [batch.id, batch]));
  const send = (file: File | undefined) => file && void act.run(() => layAirOver(file));
  return (
    <section className="mt-6" aria-label="The air of the shop">
      <h2 className="border-b rule pb-1 text-lg">The air of the shop</h2>
      {making.air.map((one) => (
        <p key={one.batch_id} className="border-b rule py-1.5">
          Glue-up {numbers.get(one.batch_id)?.number}: <strong>{one.words}</strong>{" "}
          <span className="pencil text-sm">{one.readings} readings until the last clamp came off</span>
          {one.minds.map((words) => (
            <span key={words} className="block text-iron">
              {words}
            </span>
          ))}
        </p>
      ))}
      {(logs.data ?? []).map((log) => (
        <p key={log.id} className="flex flex-wrap items-baseline gap-x-3 border-b rule py-1.5">
          <span>{log.name}</span>
          <span className="pencil text-sm">
            {dayTime(log.from_utc)} to {dayTime(log.to_utc)}
          </span>
          <button type="button" className="link" onClick={() => void act.run(() => takeAirAway(log.id))}>
            take away
          </button>
        </p>
      ))}
      <label className="link mt-2 inline-block min-h-[36px] cursor-pointer py-1">
        Lay a temperature logger’s file (CSV) over the glue-ups
        <input
          type="file"
          accept=".csv,.txt,text/csv"
          className="sr-only"
          onChange={(event) => send(event.target.files?.[0])}
        />
      </label>
      <Trouble problem={act.problem} />
    </section>
  );
}
