// One-key work: keys of a screen, silent while something is being typed.
import { useEffect, useRef } from "react";

export type KeyMap = Record<string, { words: string; press: () => void }>;

const listeners = new Set<KeyMap>();

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (/^(INPUT|SELECT|TEXTAREA)$/.test(target.tagName) || target.isContentEditable);

/** Bind the keys of a screen while it stands; `PageDown` (a foot switch, a presenter) always means Enter, typing or not. */
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
      const isFoot = event.key === "PageDown";
      if (event.ctrlKey || event.metaKey || event.altKey || (isTyping(event.target) && !isFoot)) return;
      if (document.querySelector('[role="dialog"], [inert]')) return;
      const key = isFoot ? "Enter" : event.key.length === 1 ? event.key.toUpperCase() : event.key;
      // Enter presses the button that has it, but for a choice: there it goes on, and Space presses
      const button = event.target instanceof HTMLButtonElement ? event.target : null;
      if (key === "Enter" && !isFoot && button && !button.closest("[data-enter=goes-on]")) return;
      if (key === " " && button) {
        if (button.closest("[data-enter=goes-on]")) return;
        button.blur();
      }
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
