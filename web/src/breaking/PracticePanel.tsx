// The operator's side of the simulated rig, for practising.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { commandPractice, loadPractice, startPracticeRig } from "./queries";

const WAYS = [
  ["snap", "snaps"],
  ["steps", "cracks on its way"],
  ["creep", "creeps"],
  ["slip", "slips once"],
  ["weights", "under weights, step by step"],
] as const;

export function PracticePanel({ rigId, pieceId }: { rigId: number; pieceId: number }) {
  const { id } = useTrial();
  const act = useAct();
  const [mode, setMode] = useState<Schemas["Mode"]>("snap");
  const say = (command: string) => void act.run(() => commandPractice(rigId, command));
  const pump = () =>
    void act.run(async () => {
      await loadPractice(id, pieceId, rigId, mode);
      await commandPractice(rigId, "PUMP start");
    });
  return (
    <div className="border border-dashed border-pencil px-3 py-2">
      <p className="label">Practice rig: you at the pump. Arm first, then pump.</p>
      <Pick label="The piece" value={mode} options={WAYS} onChange={setMode} />
      <div className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(8rem,1fr))] gap-2">
        <button type="button" className="press" onClick={pump}>
          Put the piece in and pump
        </button>
        <button type="button" className="press press-plain" onClick={() => say("PUMP stop")}>
          Stop pumping
        </button>
        <button type="button" className="press press-plain" onClick={() => say("UNLOAD")}>
          Let go, leave it in
        </button>
        <button type="button" className="press press-plain" onClick={() => say("PUMP start")}>
          Pump again
        </button>
        <button type="button" className="press press-plain" onClick={() => say("RELEASE")}>
          Release
        </button>
        <button type="button" className="press press-plain" onClick={() => say("UNPLUG 4s")}>
          Pull the plug for 4 s
        </button>
        <button type="button" className="press press-plain" onClick={() => say("GARBLE 8")}>
          Garble 8 lines
        </button>
      </div>
      <Trouble problem={act.problem} />
    </div>
  );
}

/** In a practice trial: starts a simulated rig inside the program, and takes it for this piece. */
export function StartPractice({ onStarted }: { onStarted: (rigId: number) => void }) {
  const { id } = useTrial();
  const act = useAct(id);
  const start = () =>
    void act.run(async () => {
      onStarted((await startPracticeRig(id)).id);
    });
  return (
    <div className="border border-dashed border-pencil px-3 py-2">
      <p>A practice trial: a simulated press can pull its pieces, by a pump on this screen.</p>
      <button type="button" className="press mt-2" disabled={act.busy} onClick={start}>
        Start the practice rig
      </button>
      <Trouble problem={act.problem} />
    </div>
  );
}
