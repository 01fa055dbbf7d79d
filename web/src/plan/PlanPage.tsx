// Plan: a conversation about what is possible. What is asked stands in the middle, what follows from it on the right.

import { useOpenShop } from "../app/shopContext";
import { Station, useTrial } from "../app/TrialShell";
import { useShop } from "../shop/queries";
import { digits } from "../ui/format";
import { Boards } from "./Boards";
import { DryRun } from "./DryRun";
import { GlueAndClamps } from "./GlueAndClamps";
import { HeldConstant } from "./HeldConstant";
import { HowMany } from "./HowMany";
import { PlanSoWhat } from "./PlanSoWhat";
import { Cautions, Chosen, Part, PlanProvider, usePlanning } from "./planning";
import { Question } from "./Question";
import { usePlan } from "./queries";
import { Settle } from "./Settle";
import { Steps } from "./Steps";
import { ThePiece } from "./ThePiece";
import { TreatmentTable } from "./TreatmentTable";
import { Varied } from "./Varied";

const PARTS = [
  ["question", "Question"],
  ["varied", "Sets"],
  ["boards", "Boards"],
  ["piece", "Piece"],
  ["rig", "Rig"],
  ["glue", "Glue, clamps"],
  ["held", "Constant"],
  ["steps", "Besides"],
  ["settle", "Settle"],
] as const;

export function PlanPage() {
  const { id } = useTrial();
  const plan = usePlan(id);
  if (!plan.data)
    return <Station aside={null}>{plan.isError ? plan.error.message : "Opening the plan …"}</Station>;
  const { consequences } = plan.data;
  const sets = plan.data.treatments.filter((set) => !set.left_out).length;
  return (
    <PlanProvider id={id} plan={plan.data}>
      <Station aside={<PlanSoWhat />}>
        <nav
          aria-label="Parts of the plan"
          className="sticky top-0 z-10 -mx-5 -mt-4 mb-3 flex flex-wrap gap-x-4 border-b rule bg-sheet px-5"
        >
          {PARTS.map(([part, words]) => (
            <a key={part} href={`#${part}`} className="head min-h-[36px] pt-2 text-[0.95rem] text-layout">
              {words}
            </a>
          ))}
          <InShort />
        </nav>
        <Question />
        <Part
          id="varied"
          title="What you vary"
          side={sets > 0 ? `${sets} sets, ${consequences.pieces} pieces` : ""}
        >
          <Varied />
          <HowMany />
          <TreatmentTable />
          <DryRun />
        </Part>
        <Part
          id="boards"
          title="Boards"
          side={plan.data.boards.length > 0 ? `${consequences.places} places` : ""}
        >
          <Boards />
          <Cautions at="cutting" />
        </Part>
        <Part id="piece" title="The piece">
          <ThePiece />
        </Part>
        <Part id="rig" title="The rig">
          <TheRig />
        </Part>
        <Part id="glue" title="Glue and clamps">
          <GlueAndClamps />
        </Part>
        <Part id="held" title="Held constant">
          <HeldConstant />
        </Part>
        <Part id="steps" title="Besides the joint">
          <Steps />
        </Part>
        <Settle />
      </Station>
    </PlanProvider>
  );
}

/** On a narrow screen what follows stands below the work: its gist stays in sight. */
function InShort() {
  const { plan, settled } = usePlanning();
  const { pieces, detectable_pct } = plan.consequences;
  const missing = settled ? 0 : plan.problems.length;
  return (
    <p className="w-full border-t rule py-1.5 text-sm lg:hidden">
      {pieces} pieces{detectable_pct != null && ` tell ${digits(detectable_pct, 2)} % apart`}
      {missing > 0 && <strong className="text-iron">, {missing} missing</strong>}.{" "}
      <a href="#so-what" className="link">
        So what
      </a>
    </p>
  );
}

function TheRig() {
  const { plan } = usePlanning();
  const shop = useShop().data;
  const openShop = useOpenShop();
  const rigs = shop?.rigs ?? [];
  if (rigs.length === 0)
    return (
      <p>
        No rig in the shop yet.{" "}
        <button type="button" className="link" onClick={openShop}>
          Describe your rig
        </button>{" "}
        and the expected loads are held against its limits; or break by hand with any scale.
      </p>
    );
  const chosen =
    rigs.find((rig) => rig.id === plan.trial.rig_id) ?? (rigs.length === 1 ? rigs[0] : undefined);
  const kind = shop?.rig_kinds.find((one) => one.name === chosen?.entry.kind);
  return (
    <div className="grid items-start gap-4 md:grid-cols-[18rem_1fr]">
      <Chosen
        name="rig_id"
        label="These pieces break on"
        options={[
          ["", rigs.length === 1 ? `${rigs[0]?.entry.name} (the only one)` : "not chosen yet"],
          ...rigs.map((rig) => [String(rig.id), rig.entry.name] as const),
        ]}
      />
      {chosen && (
        <p className="text-sm">
          {kind?.words}: {kind?.reading}. Pulls {chosen.entry.capacity}, reads to {chosen.entry.resolution}.{" "}
          {kind?.caution}
        </p>
      )}
    </div>
  );
}
