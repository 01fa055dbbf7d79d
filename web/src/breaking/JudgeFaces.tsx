// Broken faces judged one after another, shuffled: only the label is shown, so that the set cannot be known.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Photo } from "../app/Photo";
import { useTrial } from "../app/TrialShell";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { EMPTY_JUDGEMENT, faceKeys, JudgeFace, type Judgement } from "./JudgeFace";
import { judgeFace, sendFacePhoto, useFaces } from "./queries";

export function JudgeFaces({ onDone }: { onDone: () => void }) {
  const { id } = useTrial();
  const view = useFaces(id).data;
  const face = view?.faces[0];
  if (!view) return null;
  if (!face)
    return (
      <div>
        <h2 className="text-2xl">Every broken face is judged</h2>
        <button type="button" className="press press-on mt-4" onClick={onDone}>
          Back to breaking
        </button>
      </div>
    );
  return <OneFace key={face.pull_id} face={face} view={view} onDone={onDone} />;
}

interface Props {
  face: Schemas["FaceToJudge"];
  view: Schemas["FacesView"];
  onDone: () => void;
}

function OneFace({ face, view, onDone }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const [judgement, setJudgement] = useState<Judgement>(EMPTY_JUDGEMENT);
  const piece = { solid: false, failures: view.failures, outcomes: [] };
  const keep = async () => {
    if (act.busy || !judgement.torn) return;
    await act.run(() =>
      judgeFace(id, face.pull_id, { wood_failure: judgement.torn, failure: judgement.failure || null }),
    );
  };
  useKeys({
    ...faceKeys(judgement, piece, setJudgement),
    Enter: { words: "keep what is seen, go to the next face", press: () => void keep() },
    Escape: { words: "back to breaking", press: onDone },
  });
  return (
    <section aria-label="Judge faces">
      <p className="label">Find this piece; {view.faces.length} faces to judge, shuffled</p>
      <h2 className="mono text-6xl leading-none font-semibold">{face.label}</h2>
      <p className="mt-2">
        Set, board and load are hidden, so that the eye is not led. Judge the half on which the glue is
        judged.
      </p>
      <Photo
        photoId={face.photo_id}
        large
        name={`Broken face of ${face.label}`}
        send={(file) => sendFacePhoto(id, face.pull_id, file)}
      />
      <JudgeFace value={judgement} piece={piece} onChange={setJudgement} note={false}>
        <button
          type="button"
          className="press press-main press-on grow"
          disabled={act.busy || !judgement.torn}
          onClick={() => void keep()}
        >
          Keep, next face<span className="block text-sm font-normal">Enter</span>
        </button>
        <button type="button" className="press press-plain min-h-[64px]" onClick={onDone}>
          Back to breaking
        </button>
      </JudgeFace>
      <Trouble problem={act.problem} />
    </section>
  );
}
