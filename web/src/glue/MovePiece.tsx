// A piece that was made as another set: it counts for what it is, with a reason that stays.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Frame } from "../ui/Frame";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { changeTreatment, useTreatmentChoices } from "./queries";

interface Props {
  piece: Schemas["MakingPiece"];
  onClose: () => void;
}

export function MovePiece({ piece, onClose }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const others = useTreatmentChoices(id, piece.id);
  const [chosen, setChosen] = useState("");
  const treatment = chosen || String(others.data?.[0]?.id ?? "");
  const { form, text } = useForm({ reason: "" }, act.problem);
  const move = async () => {
    const done = await act.run(() => changeTreatment(id, piece.id, Number(treatment), form.reason));
    if (done) onClose();
  };
  return (
    <Frame title={`${piece.label} was made as another set`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void move();
        }}
      >
        <Pick
          label={`Planned as ${piece.treatment}; it really is`}
          value={treatment}
          options={(others.data ?? []).map((one) => [String(one.id), one.name] as const)}
          onChange={setChosen}
        />
        {others.data?.length === 0 && (
          <p>No other set is made alike with the glue that is on it. If it is spoiled, void it.</p>
        )}
        {text("reason", "What happened (it stays beside the result)", "scraped instead of planed")}
        <Trouble problem={act.problem} />
        <div className="flex gap-3">
          <button type="submit" className="press press-on" disabled={act.busy || !treatment}>
            Count it there
          </button>
          <button type="button" className="press press-plain" onClick={onClose}>
            Leave it
          </button>
        </div>
      </form>
    </Frame>
  );
}
