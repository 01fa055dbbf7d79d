// Starting a trial: a question of one's own, or a common one with a first plan behind it.
import { useState } from "react";
import { useNavigate } from "react-router";
import { useAct } from "../app/changes";
import { useShop } from "../shop/queries";
import { Trouble } from "../ui/Trouble";
import { createTrial, startFrom, useStarters } from "./queries";

export function StartTrial({ big = false }: { big?: boolean }) {
  const [question, setQuestion] = useState(() => localStorage.getItem("draft question") ?? "");
  const [open, setOpen] = useState(big || question !== "");
  const [practice, setPractice] = useState(false);
  const demo = useShop().data?.demo ?? false;
  const navigate = useNavigate();
  const act = useAct();
  const begin = async (call: () => Promise<{ id: number }>) => {
    let id = 0;
    const done = await act.run(async () => {
      id = (await call()).id;
    });
    if (!done) return;
    localStorage.removeItem("draft question");
    navigate(`/trials/${id}/plan`);
  };
  const mine = { practice: practice || null };
  if (!open)
    return (
      <button type="button" className="press mt-4" onClick={() => setOpen(true)}>
        Start a trial
      </button>
    );
  return (
    <div className={big ? "" : "mt-4"}>
      <form
        className="grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void begin(() => createTrial({ question, ...mine }));
        }}
      >
        <label className="grid gap-1">
          <span className="label">What do you want to know?</span>
          <input
            className={`entry ${big ? "text-xl" : ""}`}
            value={question}
            autoFocus
            placeholder="Which glue holds a blade edge best?"
            onChange={(event) => {
              setQuestion(event.target.value);
              localStorage.setItem("draft question", event.target.value);
            }}
          />
        </label>
        {!demo && (
          <label className="flex min-h-[44px] items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-layout"
              checked={practice}
              onChange={(event) => setPractice(event.target.checked)}
            />
            for practice: may use a simulated rig
          </label>
        )}
        <Trouble problem={act.problem} />
        <button type="submit" className={`press press-on ${big ? "press-main" : ""}`} disabled={act.busy}>
          Start a trial
        </button>
      </form>
      <Starters
        wide={big}
        busy={act.busy}
        onStart={(starter) => void begin(() => startFrom({ starter, question, ...mine }))}
      />
    </div>
  );
}

interface StartersProps {
  wide: boolean;
  busy: boolean;
  onStart: (key: string) => void;
}

/** Common questions; each comes with values, baselines, sizes and boards, and all of it can be changed. */
function Starters({ wide, busy, onStart }: StartersProps) {
  const starters = useStarters();
  return (
    <details className="mt-3">
      <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
        or begin with a common question and its first plan
      </summary>
      <ul className={`mt-1 grid gap-x-6 ${wide ? "sm:grid-cols-2" : ""}`}>
        {starters.data?.map((one) => (
          <li key={one.key} className="border-b rule">
            <button
              type="button"
              className="block min-h-[52px] w-full py-2 text-left hover:text-layout"
              disabled={busy}
              onClick={() => onStart(one.key)}
            >
              <span className="head">{one.question}</span>
              <span className="pencil block text-sm">{one.words}</span>
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
