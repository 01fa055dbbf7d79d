// A break read off by a person: the peak in any unit, and what the face looks like.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { isFaulty, Trouble } from "../ui/Trouble";
import { EMPTY_JUDGEMENT, JudgeFace, type Judgement, toBody } from "./JudgeFace";
import { breakByHand, useTypedLoad } from "./queries";

export function HandBreak({ piece, onKept }: { piece: Schemas["BreakPiece"]; onKept: () => void }) {
  const { id, rack } = useTrial();
  const act = useAct(id);
  const { force } = useUnits();
  const draftKey = `draft ${id} break ${piece.id}`;
  const [load, setLoad] = useState(() => localStorage.getItem(draftKey) ?? "");
  const [held, setHeld] = useState(() => localStorage.getItem(`${draftKey} held`) ?? "");
  const [judgement, setJudgement] = useState<Judgement>(EMPTY_JUDGEMENT);
  const understood = useTypedLoad(id, load);
  const type = (text: string) => {
    setLoad(text);
    localStorage.setItem(draftKey, text);
  };
  const typeHeld = (text: string) => {
    setHeld(text);
    localStorage.setItem(`${draftKey} held`, text);
  };
  const keep = async (text: string, beyond_rig = false) => {
    const body = { piece: piece.id, load: text, judgement: toBody(judgement), held, beyond_rig };
    if (!(await act.run(() => breakByHand(id, body)))) return;
    localStorage.removeItem(draftKey);
    localStorage.removeItem(`${draftKey} held`);
    onKept();
  };
  return (
    <form
      className="mt-3"
      onSubmit={(event) => {
        event.preventDefault();
        void keep(load);
      }}
    >
      <label className={rack.strength_kind === "none" ? "hidden" : "block"}>
        <span className="label">Peak load (in {force.symbol}, or write the unit: 240 kg, 530 lb)</span>
        <input
          className="entry mono text-3xl"
          value={load}
          autoFocus
          autoComplete="off"
          aria-invalid={isFaulty(act.problem, "load")}
          onChange={(event) => type(event.target.value)}
        />
      </label>
      {rack.strength_kind !== "none" && (
        <p className="min-h-6" role="status">
          {understood.data && /\d/.test(load) && !understood.isError ? understood.data.words : ""}
        </p>
      )}
      {rack.strength_kind !== "none" && judgement.outcome === "broke" && (
        <label className="mt-2 flex flex-wrap items-center gap-2">
          <span className="label">
            Weights put on in steps? The last load that held (0: it broke on the first)
          </span>
          <input
            className="entry mono w-32"
            value={held}
            autoComplete="off"
            aria-invalid={isFaulty(act.problem, "held")}
            onChange={(event) => typeHeld(event.target.value)}
          />
        </label>
      )}
      <Trouble problem={act.problem} onChoose={(text) => void keep(text)}>
        {act.problem?.code === "beyond-rig" && (
          <button type="button" className="press ml-3" onClick={() => void keep(load, true)}>
            It is right, keep it
          </button>
        )}
      </Trouble>
      <JudgeFace value={judgement} piece={piece} onChange={setJudgement}>
        <button type="submit" className="press press-main press-on grow" disabled={act.busy}>
          Keep, next piece<span className="block text-sm font-normal">Enter</span>
        </button>
      </JudgeFace>
    </form>
  );
}
