// The force in the clamp, read live from a load cell through the rig's reader, against what the plan asks for.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { connectRig } from "../breaking/queries";
import { useLive } from "../breaking/useLive";
import { useShop } from "../shop/queries";
import { useUnits } from "../shop/useUnits";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { keepClampForce } from "./queries";

type RunPiece = Schemas["RunPiece"];

export function ClampForce({ pieces }: { pieces: RunPiece[] }) {
  const { id } = useTrial();
  const rigs = (useShop().data?.rigs ?? []).filter((rig) => rig.entry.url);
  const [rigId, setRigId] = useState<number | null>(null);
  const [pieceId, setPieceId] = useState<number | null>(null);
  const act = useAct(id);
  const { live } = useLive(rigId);
  const { force, show } = useUnits();
  const closed = pieces.filter((one) => one.closed_utc !== null);
  if (rigs.length === 0 || closed.length === 0) return null;
  const piece = closed.find((one) => one.id === pieceId) ?? closed.at(-1);
  if (!piece) return null;
  const asked = piece.asked_n;
  const now = live?.load_n ?? null;
  const connect = async (next: string) => {
    const chosen = next ? Number(next) : null;
    if (chosen !== null && !(await act.run(() => connectRig(chosen)))) return;
    setRigId(chosen);
  };
  return (
    <details className="mt-3 border-l-2 rule pl-3">
      <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
        A load cell in the clamp: read the force
      </summary>
      <div className="mt-1 grid items-end gap-3 sm:grid-cols-[12rem_9rem_1fr]">
        <Pick
          label="Read from"
          value={rigId === null ? "" : String(rigId)}
          options={[["", "not now"], ...rigs.map((rig) => [String(rig.id), rig.entry.name] as const)]}
          onChange={(next) => void connect(next)}
        />
        <Pick
          label="On piece"
          value={String(piece.id)}
          options={closed.map((one) => [String(one.id), one.label] as const)}
          onChange={(next) => setPieceId(Number(next))}
        />
        {rigId !== null && (
          <p className="leading-tight" role="status">
            <strong className="mono text-4xl">{now === null ? "–" : show(now, force)}</strong>
            {asked !== null && (
              <span className="block">
                asked: {show(asked, force)}
                {now !== null && sayForce(now, piece)}
              </span>
            )}
          </p>
        )}
      </div>
      {rigId !== null && (
        <button
          type="button"
          className="press mt-2"
          disabled={act.busy || now === null}
          onClick={() => void act.run(() => keepClampForce(id, [piece.id], rigId))}
        >
          Keep it as settled on {piece.label}
        </button>
      )}
      {closed
        .filter((one) => one.clamp_settled_n !== null)
        .map((one) => (
          <p key={one.id} className="mt-1 text-sm">
            <span className="mono">{one.label}</span>: settled at {show(one.clamp_settled_n, force)}, peak{" "}
            {show(one.clamp_peak_n, force)}
          </p>
        ))}
      <Trouble problem={act.problem} />
    </details>
  );
}

/** Whether the force is there: between the bounds that the plan came with. */
const sayForce = (now: number, { asked_from_n, asked_to_n }: RunPiece) =>
  now < (asked_from_n ?? 0) ? ", tighten" : now > (asked_to_n ?? 0) ? ", more than asked" : ", it is there";
