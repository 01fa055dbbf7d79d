// A trial's frame: the flow on top, the rack on the left, the station in the middle and on the right.
import { Link, Outlet, useLocation, useOutletContext, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { Rack } from "../drawings/Rack";
import { redoChange, undoChange, useRack } from "../over/queries";
import { Fallback } from "../ui/Fallback";
import { useKeys } from "../ui/keys";
import { useAct } from "./changes";
import { Flow } from "./Flow";

export interface Trial {
  id: number;
  rack: Schemas["RackView"];
  selected: number | null;
  select: (pieceId: number | null) => void;
  undo: () => void;
}

/** In the address while faces are judged: then nothing on the page may lead the eye. */
export const FACES = "faces";

export const useTrial = () => useOutletContext<Trial>();

export function TrialShell() {
  const id = Number(useParams().trialId);
  const rack = useRack(id);
  const [search, setSearch] = useSearchParams();
  const station = useLocation().pathname;
  const act = useAct(id);
  const undo = () => void act.run(() => undoChange(id));
  const redo = () => void act.run(() => redoChange(id));
  useKeys({ U: { words: "undo the latest change", press: undo } });

  if (rack.isError) return <Missing words={rack.error.message} />;
  if (!rack.data) return <p className="p-6">Opening the trial …</p>;

  const selected = search.get("piece") ? Number(search.get("piece")) : null;
  const select = (pieceId: number | null) => {
    // what is chosen already needs no navigation: one that comes late would call back a person who went on
    if (pieceId === selected) return;
    setSearch(
      (old) => {
        const next = new URLSearchParams(old);
        if (pieceId === null) next.delete("piece");
        else next.set("piece", String(pieceId));
        return next;
      },
      { replace: true },
    );
  };
  const trial: Trial = { id, rack: rack.data, selected, select, undo };
  return (
    <div className="flex min-h-screen flex-col">
      <Flow trial={rack.data} onUndo={undo} onRedo={redo} problem={act.problem} onDismiss={act.clear} />
      <div className="grid flex-1 grid-cols-[13.5rem_1fr] xl:grid-cols-[18.5rem_1fr]">
        {search.has(FACES) && station.endsWith("/break") ? (
          <p className="pencil px-3 py-4">
            The rack shows sets, boards and loads: it stands here again when the faces are judged.
          </p>
        ) : (
          <Rack rack={rack.data} selected={selected} onSelect={select} />
        )}
        <Fallback what="This station" key={station}>
          {rack.data.frozen || station.endsWith("/plan") ? <Outlet context={trial} /> : <PlanFirst />}
        </Fallback>
      </div>
    </div>
  );
}

/** What every later station says until the plan is settled. */
function PlanFirst() {
  return (
    <Station aside={null}>
      <h2 className="text-2xl">The plan comes first</h2>
      <p className="mt-3">
        Pieces get their labels when the plan is settled; then they can be sawn, glued and broken.
      </p>
      <Link className="press press-on mt-4 inline-block" to="plan">
        Go to the plan
      </Link>
    </Station>
  );
}

function Missing({ words }: { words: string }) {
  return (
    <main className="p-8">
      <h1 className="text-2xl">This trial is not here</h1>
      <p className="mt-2">{words}</p>
      <a className="press mt-4 inline-block" href="/">
        Go to Today
      </a>
    </main>
  );
}

interface StationProps {
  children: React.ReactNode;
  aside: React.ReactNode;
}

/** The middle and the right column of a station; on a narrow screen the right one goes below. */
export function Station({ children, aside }: StationProps) {
  return (
    <div className="grid min-w-0 border-l rule bg-sheet lg:grid-cols-[1fr_18.5rem]">
      <main className="min-w-0 px-5 py-4">{children}</main>
      <aside
        id="so-what"
        aria-label="So what"
        className="border-t rule bg-plaster px-4 py-4 lg:border-t-0 lg:border-l"
      >
        {/* stays in sight while the work scrolls; what scrolls must be reachable by keys */}
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: see above */}
        <div tabIndex={0} className="lg:sticky lg:top-4 lg:max-h-[calc(100vh-2rem)] lg:overflow-y-auto">
          <h2 className="mb-2 text-base">So what</h2>
          <div className="grid grid-cols-[minmax(0,1fr)] gap-4 text-[0.97rem]">{aside}</div>
        </div>
      </aside>
    </div>
  );
}
