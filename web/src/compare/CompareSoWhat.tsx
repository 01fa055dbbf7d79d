// So what: the verdict, the guess, what to mind, what is set aside, and the file to take away.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { putBack } from "../breaking/queries";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { Claims, Conclusion } from "./Conclusion";
import { type Asked, useCommand } from "./queries";
import { TakeAway } from "./TakeAway";

const MOST_PAIRS = 6;

const strengthOf = (group: Schemas["Group"]) => group.typical ?? group.at_least ?? group.at_most ?? 0;

/** The pairs that matter most for the verdict: those of the strongest joints first, of solid wood last. */
function leadingPairs(view: Schemas["CompareView"]) {
  const strongest = [...view.groups].sort((a, b) => strengthOf(b) - strengthOf(a)).map((one) => one.level);
  const isBaseline = (level: string) => view.controls.includes(level);
  const order = [...strongest.filter((one) => !isBaseline(one)), ...strongest.filter(isBaseline)];
  const place = (pair: Schemas["PairWords"]) => order.indexOf(pair.a) + order.indexOf(pair.b);
  if (view.pairs.length <= MOST_PAIRS) return view.pairs;
  return [...view.pairs].sort((a, b) => place(a) - place(b)).slice(0, MOST_PAIRS);
}

interface Props {
  view: Schemas["CompareView"];
  asked: Asked;
  found?: Schemas["FindingsView"] | undefined;
}

export function CompareSoWhat({ view, asked, found }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const commands = useCommand(id, asked).data;
  return (
    <>
      {view.summary && (
        <section>
          <h3 className={view.summary.headline.length > 90 ? "text-xl" : "text-2xl"}>
            {view.summary.headline}
          </h3>
          {view.summary.also && <p className="mt-2 font-semibold">{view.summary.also}</p>}
          {leadingPairs(view).map((pair) => (
            <p key={pair.a + pair.b} className="mt-2">
              {pair.words}
            </p>
          ))}
          {view.pairs.length > MOST_PAIRS && (
            <p className="pencil mt-2">{view.pairs.length - MOST_PAIRS} more pairs stand in the table.</p>
          )}
          {view.summary.averages && <p className="mt-2">{view.summary.averages}</p>}
        </section>
      )}
      <section className="border-t rule pt-3">
        <h3 className="text-base">Your guess</h3>
        <p>{view.guess ? `“${view.guess}”` : "None was written down before the first break."}</p>
        <Claims claims={found?.guess_claims ?? []} />
        {view.guess_utc && <p className="pencil text-sm">written {dayTime(view.guess_utc)}</p>}
      </section>
      {found && view.analysis && <Conclusion view={found} />}
      <Said title="What would change the verdict" words={found?.changes ?? []} />
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
      <TakeAway id={id} asked={asked} view={view} commands={commands} />
      <p className="pencil border-t rule pt-3 text-sm">
        Shop tests compare joints with each other; they approve nothing. For anything that holds people up
        follow the makers' instructions, local codes and licensed practice.
      </p>
    </>
  );
}

function Said({ title, words }: { title: string; words: string[] }) {
  if (words.length === 0) return null;
  return (
    <section className="border-t rule pt-3">
      <h3 className="text-base">{title}</h3>
      {words.map((one) => (
        <p key={one} className="mt-1">
          {one}
        </p>
      ))}
    </section>
  );
}
