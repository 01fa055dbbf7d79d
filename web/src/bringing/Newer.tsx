// A newer file of a trial that was brought in: what is new, changed and gone, each to be ticked, then taken over.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { type Found, type Said, takeChanges, viewChanges } from "./queries";

interface Props {
  trialId: number;
  found: Found;
  said: Said;
  onTaken: () => void;
}

const TITLES = { changed: "Changed", new: "New", gone: "Gone" } as const;
const MEANS = {
  changed: "The break is corrected: old and new stay with the piece.",
  new: "The piece comes in with its break.",
  gone: "The piece is set aside: it stays, and counts no more.",
} as const;
const MOST_SHOWN = 60;

export function Newer({ trialId, found, said, onTaken }: Props) {
  const act = useAct(trialId);
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const asked = useQuery({
    queryKey: ["newer", trialId, found.sha256, said],
    queryFn: () => viewChanges(trialId, found.sha256, said),
    retry: false,
  });
  const view = asked.data;
  const ticked = view?.changes.filter((one) => !off.has(one.key)) ?? [];
  const turn = (key: string) =>
    setOff((was) => {
      const next = new Set(was);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  const take = async () => {
    const done = await act.run(() =>
      takeChanges(
        trialId,
        found.sha256,
        said,
        ticked.map((one) => one.key),
      ),
    );
    if (done) onTaken();
  };
  return (
    <aside className="border-l rule px-4 py-3" aria-label="What is newer">
      <h2 className="text-xl">{view ? `Against ${view.older}` : "Comparing …"}</h2>
      {asked.error && <p className="mt-2 text-red">{asked.error.message}</p>}
      {view && (
        <p>
          {view.changes.length === 0
            ? `All ${view.same} pieces are as they were.`
            : `${view.same} pieces are as they were.`}
        </p>
      )}
      {(["changed", "new", "gone"] as const).map((kind) => {
        const mine = view?.changes.filter((one) => one.kind === kind) ?? [];
        if (mine.length === 0) return null;
        return (
          <fieldset key={kind} className="mt-3 border-t rule pt-2">
            <legend className="label">
              {TITLES[kind]}: {mine.length}
            </legend>
            <p className="pencil text-sm">{MEANS[kind]}</p>
            {mine.slice(0, MOST_SHOWN).map((one) => (
              <label key={one.key} className="flex min-h-11 items-center gap-3">
                <input
                  type="checkbox"
                  className="size-5 shrink-0"
                  checked={!off.has(one.key)}
                  onChange={() => turn(one.key)}
                />
                <span className="break-words">{one.words}</span>
              </label>
            ))}
            {mine.length > MOST_SHOWN && (
              <p className="pencil text-sm">and {mine.length - MOST_SHOWN} more, all ticked</p>
            )}
          </fieldset>
        );
      })}
      <Trouble problem={act.problem} />
      {view && view.changes.length > 0 && (
        <button
          type="button"
          className="press press-on mt-4"
          disabled={act.busy || ticked.length === 0 || found.questions.length > 0}
          onClick={() => void take()}
        >
          Take over {ticked.length} {ticked.length === 1 ? "change" : "changes"}
        </button>
      )}
      {found.questions.length > 0 && <p className="pencil mt-1 text-sm">First answer what is asked.</p>}
    </aside>
  );
}
