// Reading a label with the camera: live where the browser allows it, else from a photo; and typing it where neither works.
import jsQR from "jsqr";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { ProblemError, type Schemas } from "../api/client";
import { Trouble } from "../ui/Trouble";
import { findLabel } from "./queries";

const LOOK_MS = 200;
const EDGE = 900;

/** What the code in a picture holds, or nothing. */
function readCode(picture: CanvasImageSource, wide: number, high: number): string | null {
  const scale = Math.min(1, EDGE / Math.max(wide, high, 1));
  const canvas = document.createElement("canvas");
  canvas.width = Math.round(wide * scale);
  canvas.height = Math.round(high * scale);
  const context = canvas.getContext("2d", { willReadFrequently: true });
  if (!context || canvas.width === 0 || canvas.height === 0) return null;
  context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
  return jsQR(data, width, height)?.data || null;
}

export function Scan() {
  const go = useNavigate();
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState<Schemas["Problem"] | null>(null);
  const [said, setSaid] = useState("");
  const open = async (code: string): Promise<void> => {
    setProblem(null);
    try {
      const found = await findLabel(code);
      void go(`/trials/${found.trial_id}/break?piece=${found.piece_id}`);
    } catch (error) {
      if (error instanceof ProblemError) setProblem(error.problem);
      else throw error;
    }
  };
  const readPhoto = async (photo: File | undefined) => {
    if (!photo) return;
    setSaid("");
    const bitmap = await createImageBitmap(photo).catch(() => null);
    const code = bitmap && readCode(bitmap, bitmap.width, bitmap.height);
    if (code) await open(code);
    else setSaid("No code is in this picture. Come closer, and hold still.");
  };
  return (
    <main className="mx-auto grid max-w-xl gap-5 px-4 py-6">
      <p>
        <Link className="link" to="/">
          Today
        </Link>
      </p>
      <h1 className="text-3xl">Read a label</h1>
      {"mediaDevices" in navigator ? (
        <Camera onCode={open} />
      ) : (
        <p className="pencil">
          This browser shows its camera only on the computer itself; take a photo of the label instead.
        </p>
      )}
      <label className="press press-main press-on grid cursor-pointer place-items-center">
        Take a photo of the label
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(event) => void readPhoto(event.target.files?.[0])}
        />
      </label>
      {said && <p role="status">{said}</p>}
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void open(typed);
        }}
      >
        <label className="grow">
          <span className="label block">Or type it</span>
          <input className="entry mono" value={typed} onChange={(event) => setTyped(event.target.value)} />
        </label>
        <button type="submit" className="press" disabled={!typed.trim()}>
          Go to the piece
        </button>
      </form>
      <Trouble problem={problem} />
    </main>
  );
}

const stopAll = (stream: MediaStream | undefined) => {
  for (const track of stream?.getTracks() ?? []) track.stop();
};

function Camera({ onCode }: { onCode: (code: string) => Promise<void> }) {
  const video = useRef<HTMLVideoElement>(null);
  const [why, setWhy] = useState("");
  const heard = useRef(onCode);
  heard.current = onCode;
  useEffect(() => {
    let stream: MediaStream | undefined;
    let last = "";
    let left = false;
    const look = setInterval(() => {
      const frame = video.current;
      const code = frame && readCode(frame, frame.videoWidth, frame.videoHeight);
      if (!code || code === last) return;
      last = code;
      void heard.current(code);
    }, LOOK_MS);
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: "environment" } })
      .then((given) => {
        stream = given;
        if (left) stopAll(given);
        else if (video.current) video.current.srcObject = given;
      })
      .catch(() => setWhy("The camera cannot be used here: take a photo, or type the label."));
    return () => {
      left = true;
      clearInterval(look);
      stopAll(stream);
    };
  }, []);
  if (why) return <p className="pencil">{why}</p>;
  return <video ref={video} autoPlay playsInline muted className="aspect-video w-full bg-plaster" />;
}
