// A photo beside something that was made or broken: shown small, opened large, taken with the tablet's camera.
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";
import { useAct } from "./changes";

interface Props {
  photoId: number | null;
  name: string;
  /** As large as there is room: what is judged by. */
  large?: boolean;
  /** What sends a picture; left out where it is only shown. */
  send?: (file: File) => Promise<unknown>;
}

export function Photo({ photoId, name, large, send }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const take = (file: File | undefined) => file && send && void act.run(() => send(file));
  return (
    <span className={large ? "mt-3 grid gap-1" : "flex items-center gap-3"}>
      {photoId !== null && (
        <a href={`/api/shop/photos/${photoId}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/shop/photos/${photoId}`}
            alt={name}
            className={`border rule ${large ? "max-h-[42vh] max-w-full" : "h-12"}`}
          />
        </a>
      )}
      {send && (
        <label className="link flex min-h-[36px] cursor-pointer items-center text-sm">
          {photoId === null ? "add a photo" : "another photo"}
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="sr-only"
            onChange={(event) => take(event.target.files?.[0])}
          />
        </label>
      )}
      <Trouble problem={act.problem} />
    </span>
  );
}
