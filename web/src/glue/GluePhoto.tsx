// A photo of a glue-up.
import { api, ask, type Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";

export function GluePhoto({ batch }: { batch: Schemas["Batch"] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const send = (file: File | undefined) =>
    file &&
    void act.run(() =>
      ask(
        api.POST("/api/trials/{trial_id}/batches/{batch_id}/photo", {
          params: { path: { trial_id: id, batch_id: batch.id } },
          body: file as unknown as string,
          bodySerializer: (content: unknown) => content as BodyInit,
          headers: { "Content-Type": file.type || "application/octet-stream" },
        }),
      ),
    );
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
