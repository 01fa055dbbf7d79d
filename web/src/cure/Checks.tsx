// What every piece must have had before it is loaded: work after gluing, and the list of its fixture.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { Trouble } from "../ui/Trouble";
import { tickCheck } from "./queries";

type Piece = Schemas["CuringPiece"];

export function Checks({ pieces }: { pieces: Piece[] }) {
  const waiting = pieces.filter((piece) => ["curing", "ready", "broken"].includes(piece.state));
  const words = [...new Set(waiting.flatMap((piece) => piece.checks.map((check) => check.words)))];
  const begun = waiting.some((piece) => piece.checks.some((check) => check.done_utc));
  if (words.length === 0 || (!begun && waiting.every((piece) => piece.state === "broken"))) return null;
  return (
    <section className="mb-6" aria-label="Before the test">
      <h2 className="border-b rule pb-1 text-xl">Before the test, every piece</h2>
      {words.map((one) => (
        <Check key={one} words={one} pieces={waiting} />
      ))}
    </section>
  );
}

function Check({ words, pieces }: { words: string; pieces: Piece[] }) {
  const { id } = useTrial();
  const act = useAct(id);
  const [open, setOpen] = useState(false);
  const mine = pieces.filter((piece) => piece.checks.some((check) => check.words === words));
  const has = (piece: Piece) => piece.checks.find((check) => check.words === words)?.done_utc != null;
  const left = mine.filter((piece) => !has(piece) && piece.state !== "broken");
  const missed = mine.filter((piece) => !has(piece) && piece.state === "broken");
  const whole = left.length === 0 && missed.length === 0;
  const tick = (chosen: Piece[], done: boolean) =>
    void act.run(() =>
      tickCheck(
        id,
        chosen.map((piece) => piece.id),
        words,
        done,
      ),
    );
  return (
    <div className="border-b rule">
      <div className="flex min-h-[48px] items-center gap-3 py-1">
        <span aria-hidden="true" className={whole ? "" : "pencil"}>
          {whole ? "✓" : "○"}
        </span>
        <span className="grow">
          {words}{" "}
          <span className="pencil text-sm">
            {mine.filter(has).length} of {mine.length}
            {missed.length > 0 ? `, ${missed.length} broken without it` : ""}
          </span>
        </span>
        <button
          type="button"
          className="link min-h-[44px] text-sm whitespace-nowrap"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          one by one
        </button>
        {left.length > 0 && (
          <button
            type="button"
            className="press whitespace-nowrap"
            disabled={act.busy}
            onClick={() => tick(left, true)}
          >
            All {left.length} have it
          </button>
        )}
      </div>
      {open && (
        <ul className="flex flex-wrap gap-2 pb-3">
          {mine.map((piece) => (
            <li key={piece.id}>
              <button
                type="button"
                aria-pressed={has(piece)}
                className={`press mono px-2 ${has(piece) ? "press-on" : "border-dashed"}`}
                onClick={() => tick([piece], !has(piece))}
              >
                {piece.label}
              </button>
            </li>
          ))}
        </ul>
      )}
      <Trouble problem={act.problem} />
    </div>
  );
}
