// When clamps are due: a tone (unless muted), the tab's title, a notification where it is allowed.
import { useEffect, useRef } from "react";
import { useToday } from "../over/queries";
import { useNow } from "../ui/useNow";

const MUTE = "muted";

export const isMuted = () => localStorage.getItem(MUTE) === "1";
export const setMuted = (muted: boolean) => localStorage.setItem(MUTE, muted ? "1" : "0");

function sound(): void {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  const volume = audio.createGain();
  tone.frequency.value = 660;
  volume.gain.setValueAtTime(0.2, audio.currentTime);
  volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 1.2);
  tone.connect(volume).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 1.2);
  tone.onended = () => void audio.close();
}

export function useAlarms(): void {
  const today = useToday().data;
  const now = useNow();
  const told = useRef<Set<string> | null>(null);
  const due = (today?.clamps ?? []).filter((line) => line.due_utc && Date.parse(line.due_utc) <= now);
  useEffect(() => {
    if (!today) return;
    document.title = due.length ? `${due.length} due · Adhaero` : "Adhaero";
    const names = due.map((line) => `${line.trial_id} ${line.clamped_utc} ${line.labels[0]}`);
    if (told.current === null) {
      told.current = new Set(names);
      return;
    }
    for (const [index, name] of names.entries()) {
      if (told.current.has(name)) continue;
      told.current.add(name);
      if (!isMuted()) sound();
      if ("Notification" in window && Notification.permission === "granted")
        new Notification("Clamps can come off", { body: due[index]?.labels.join(" ") ?? "" });
    }
  });
}
