// What is typed of a break stays with its piece until it is kept: leaving in the middle loses nothing.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { EMPTY_JUDGEMENT, type Judgement } from "./JudgeFace";

export interface Draft {
  load: string;
  weighed: Schemas["Weighed"];
  /** The plates that hang now, and what hung after each that was put on, by their ids. */
  hanging: number[];
  stacks: number[][];
  /** Whether the weights are over: it broke, or there were no more. */
  ended: boolean;
  /** Whether a lever is loaded with plates; else what hangs is typed. */
  by_plates: boolean;
  hold: string;
  /** A dial read at loads; null where none is read. */
  dial: Schemas["DialReading"][] | null;
  pried: Schemas["PriedWith"];
  at_utc: string | null;
  judgement: Judgement;
}

const EMPTY: Draft = {
  load: "",
  weighed: "full",
  hanging: [],
  stacks: [],
  ended: false,
  by_plates: false,
  hold: "",
  dial: null,
  pried: "",
  at_utc: null,
  judgement: EMPTY_JUDGEMENT,
};

function read(key: string): Draft {
  try {
    return { ...EMPTY, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as Partial<Draft>) };
  } catch {
    return EMPTY;
  }
}

/** The draft of one piece's break; `set` changes some of it, `clear` begins anew. */
export function useBreakDraft(trialId: number, pieceId: number) {
  const key = `draft ${trialId} break ${pieceId}`;
  const [draft, setDraft] = useState(() => read(key));
  const set = (change: Partial<Draft>) =>
    setDraft((old) => {
      const next = { ...old, ...change };
      localStorage.setItem(key, JSON.stringify(next));
      return next;
    });
  const clear = () => {
    localStorage.removeItem(key);
    setDraft(EMPTY);
  };
  return { draft, set, clear };
}
