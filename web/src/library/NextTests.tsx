// What next: what this shop does not know and would learn most from, and one press to begin its plan.
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { beginTest } from "./queries";

export function NextTests({ tests }: { tests: readonly Schemas["NextView"][] }) {
  const act = useAct();
  const go = useNavigate();
  if (tests.length === 0) return null;
  const begin = (one: Schemas["NextView"]) =>
    void act.run(async () => {
      const { id } = await beginTest(one.base, {
        factor_id: one.factor,
        a: one.a,
        b: one.b,
        pieces: one.pieces,
        held: one.held,
      });
      go(`/trials/${id}/plan`);
    });
  return (
    <section className="border-t rule pt-3" aria-label="What next">
      <h3 className="text-base">What next</h3>
      {tests.map((one) => (
        <div key={`${one.a} ${one.b}`} className="mt-3">
          <p>{one.words}</p>
          <p className="pencil text-sm">{one.takes}</p>
          <button
            type="button"
            className="press press-plain mt-1"
            disabled={act.busy}
            onClick={() => begin(one)}
          >
            Begin this plan
          </button>
        </div>
      ))}
      <Trouble problem={act.problem} />
    </section>
  );
}
