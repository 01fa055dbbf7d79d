// So what: the verdict, the guess, what to mind, what is set aside, and the file to take away.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { putBack } from "../breaking/queries";
import { NextTests } from "../library/NextTests";
import { useNext } from "../library/queries";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { Claims, Conclusion } from "./Conclusion";
import { type Asked, useAcross, useChecks, useCommand, useSpoken } from "./queries";
import { TakeAway } from "./TakeAway";

const MOST_PAIRS = 4;

interface Props {
  view: Schemas["CompareView"];
  asked: Asked;
}

export function CompareSoWhat({ view, asked }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const stands = view.groups.length > 0 || view.passing !== null;
  const across = useAcross(id, asked, stands).data;
  const checks = useChecks(id, asked, stands).data;
  const next = useNext(id, stands).data;
  const commands = useCommand(id, asked).data;
  return (
    <>
      {view.passing ? (
        <Said title="" words={view.passing.said} />
      ) : (
        <Said title="" words={view.pairs.slice(0, MOST_PAIRS).map((one) => one.words)} />
      )}
      <Said title={view.slice ? "Across the slices" : "By wood"} words={across?.said ?? []} />
      <section className="border-t rule pt-3">
        <h3 className="text-base">Your guess</h3>
        <p>{view.guess ? `“${view.guess}”` : "None was written down before the first break."}</p>
        <Claims claims={checks?.guess_claims ?? []} />
        {view.guess_utc && <p className="pencil text-sm">written {dayTime(view.guess_utc)}</p>}
      </section>
      {checks && stands && <Conclusion view={checks} />}
      <Said title="What would change the verdict" words={checks?.changes ?? []} />
      <NextTests tests={next ?? []} />
      {stands && (
        <Link className="link" to="/book">
          The book of all trials
        </Link>
      )}
      <Said title="Mind" words={view.mind} />
      <Said title="Changed after it was settled" words={view.amended} />
      {view.excluded.length > 0 && (
        <section className="border-t rule pt-3">
          <h3 className="text-base">Set aside</h3>
          {view.excluded.map((one, index) => (
            <p key={one.specimen} className="mt-1">
              <span className="mono font-semibold">{one.specimen}</span>: {one.reason}{" "}
              <button
                type="button"
                className="link"
                onClick={() => void act.run(() => putBack(id, view.excluded_ids[index] ?? 0))}
              >
                Put back
              </button>
            </p>
          ))}
        </section>
      )}
      {view.voided.length > 0 && (
        <section className="border-t rule pt-3">
          <h3 className="text-base">Void, never loaded</h3>
          {view.voided.map((one) => (
            <p key={one.specimen} className="mt-1">
              <span className="mono font-semibold">{one.specimen}</span>: {one.reason}
            </p>
          ))}
        </section>
      )}
      <Trouble problem={act.problem} />
      {view.dots.length > 0 && <ReadOut id={id} asked={asked} />}
      <TakeAway id={id} asked={asked} view={view} commands={commands} />
      <p className="pencil border-t rule pt-3 text-sm">
        Shop tests compare joints with each other; they approve nothing. For anything that holds people up
        follow the makers' instructions, local codes and licensed practice.
      </p>
    </>
  );
}

/** Three sentences to be read into a camera. */
function ReadOut({ id, asked }: { id: number; asked: Asked }) {
  const [open, setOpen] = useState(false);
  const spoken = useSpoken(id, asked, open).data;
  return (
    <details className="border-t rule pt-3" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="link inline-flex min-h-6 items-center">To be read out, in three sentences</summary>
      {spoken?.sentences.map((one) => (
        <p key={one} className="mt-1 text-lg">
          {one}
        </p>
      ))}
    </details>
  );
}

function Said({ title, words }: { title: string; words: string[] }) {
  if (words.length === 0) return null;
  return (
    <section className={title ? "border-t rule pt-3" : ""}>
      {title && <h3 className="text-base">{title}</h3>}
      {words.map((one) => (
        <p key={one} className="mt-1">
          {one.slice(0, 1).toUpperCase() + one.slice(1)}
        </p>
      ))}
    </section>
  );
}
