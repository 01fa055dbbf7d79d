// One-key work: keys of a screen, silent while something is being typed.
import { useEffect, useRef } from "react";

export type KeyMap = Record<string, { words: string; press: () => void }>;

const listeners = new Set<KeyMap>();

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (/^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName) || target.isContentEditable);

/** Bind the keys of a screen while it stands; `PageDown` (a foot switch) always means Enter. */
export function useKeys(map: KeyMap): void {
  const latest = useRef(map);
  latest.current = map;
  useEffect(() => {
    const shown: KeyMap = new Proxy(
      {},
      {
        get: (_, key) => latest.current[key as string],
        ownKeys: () => Object.keys(latest.current),
        getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
      },
    );
    listeners.add(shown);
    const hear = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (document.querySelector('[role="dialog"], [inert]')) return;
      const key =
        event.key === "PageDown" ? "Enter" : event.key.length === 1 ? event.key.toUpperCase() : event.key;
      if (key === "Enter" && event.key === "Enter" && event.target instanceof HTMLButtonElement) return;
      if (key === " " && event.target instanceof HTMLButtonElement) event.target.blur();
      const found = latest.current[key];
      if (!found) return;
      event.preventDefault();
      found.press();
    };
    window.addEventListener("keydown", hear);
    return () => {
      listeners.delete(shown);
      window.removeEventListener("keydown", hear);
    };
  }, []);
}

/** The keys that work now, for the help. */
export const listKeys = () =>
  [...listeners].flatMap((map) =>
    Object.keys(map).map((key) => [key === " " ? "Space" : key, map[key]?.words ?? ""] as const),
  );
