// A photo of a glue-up.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";
import { sendBatchPhoto } from "./queries";

export function GluePhoto({ batch }: { batch: Schemas["Batch"] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const send = (file: File | undefined) => file && void act.run(() => sendBatchPhoto(id, batch.id, file));
  return (
    <span className="flex items-center gap-3">
      {batch.photo_id !== null && (
        <a href={`/api/shop/photos/${batch.photo_id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/shop/photos/${batch.photo_id}`}
            alt={`Glue-up ${batch.number}`}
            className="h-12 border rule"
          />
        </a>
      )}
      <label className="link flex min-h-[36px] cursor-pointer items-center text-sm">
        {batch.photo_id === null ? "add a photo" : "another photo"}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(event) => send(event.target.files?.[0])}
        />
      </label>
      <Trouble problem={act.problem} />
    </span>
  );
}
