// Settling the plan; what was changed after that, and why; planning again from it.
import { Link, useNavigate } from "react-router";
import { dayTime } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { DropSet } from "./DropSet";
import { Later } from "./Later";
import { usePlanning } from "./planning";
import { planAgain, reopen, settle } from "./queries";

export function Settle() {
  const { id, plan, settled, act } = usePlanning();
  const navigate = useNavigate();
  const { problems } = plan;
  const again = async (onlyMissing: boolean) => {
    let next = 0;
    const done = await act.run(async () => {
      next = (await planAgain(id, onlyMissing)).id;
    });
    if (done) navigate(`/trials/${next}/plan`);
  };
  return (
    <section id="settle" className="mt-7 scroll-mt-14 border-t border-graphite pt-4">
      {settled ? (
        <p>
          The plan is settled: every piece has its label. A change is still possible, with a reason that stays
          beside it. While nothing is glued you can{" "}
          <button type="button" className="link" onClick={() => void act.run(() => reopen(id))}>
            reopen the plan
          </button>
          .
        </p>
      ) : (
        <button
          type="button"
          className="press press-main w-full press-on"
          disabled={problems.length > 0 || act.busy}
          onClick={async () => {
            if (await act.run(() => settle(id))) navigate("../saw");
          }}
        >
          {problems.length > 0
            ? "Not complete yet: see what is missing"
            : "Settle the plan and label the pieces"}
        </button>
      )}
      {plan.amendments.length > 0 && (
        <>
          <h3 className="mt-4 text-base">Changed after it was settled</h3>
          <ul>
            {plan.amendments.map((one) => (
              <li key={one.id} className="border-b rule py-1.5">
                <span className="pencil">{dayTime(one.at_utc)}</span> {one.words}: {one.before || "nothing"} →{" "}
                {one.after || "nothing"}. <em>{one.reason}</em>
              </li>
            ))}
          </ul>
        </>
      )}
      {settled && <Later />}
      {settled && <DropSet />}
      <p className="mt-4 flex flex-wrap gap-x-5 gap-y-1">
        <button type="button" className="link" onClick={() => void again(false)}>
          Copy this plan
        </button>
        {settled && (
          <Link className="link" to="../timetable">
            Who does what when: the timetable
          </Link>
        )}
        {settled && (
          <button type="button" className="link" onClick={() => void again(true)}>
            Plan again what is missing
          </button>
        )}
      </p>
      <Trouble problem={act.problem} />
    </section>
  );
}
