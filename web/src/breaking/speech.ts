// The browser's own voice repeats what was kept, where a person wants it; off by default.
const KEY = "speaks";

export const canSpeak = () => "speechSynthesis" in window;
export const doesSpeak = () => localStorage.getItem(KEY) === "1";
export const setSpeaks = (on: boolean) => localStorage.setItem(KEY, on ? "1" : "0");

/** Say something aloud, after what is being said; nothing where the voice is off. */
export function speak(words: string): void {
  if (!words || !doesSpeak() || !canSpeak()) return;
  speechSynthesis.speak(new SpeechSynthesisUtterance(words));
}
