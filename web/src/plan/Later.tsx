// Pieces that join a settled trial: more of a set, or a set that is new, with the reason.
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useShop } from "../shop/queries";
import { Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { usePlanning } from "./planning";
import { joinLate } from "./queries";

const NEW = "new";

export function Later() {
  const { id, plan, act } = usePlanning();
  const navigate = useNavigate();
  const shop = useShop().data;
  const [set, setSet] = useState(NEW);
  const [values, setValues] = useState<Record<number, string>>({});
  const [family, setFamily] = useState("");
  const [pieces, setPieces] = useState(String(plan.trial.pieces_each || 6));
  const [boards, setBoards] = useState("");
  const [reason, setReason] = useState("");
  const [again, setAgain] = useState(false);
  const glue = plan.factors.find((one) => one.kind === "glue");
  const typed = glue ? (values[glue.id] ?? "").trim().toLowerCase() : "";
  const onShelf = shop?.glues.some((one) => one.name.toLowerCase() === typed);
  const asksFamily = set === NEW && typed !== "" && !onShelf;
  const join = async () => {
    const done = await act.run(() =>
      joinLate(id, {
        pieces: Number(pieces) || 0,
        boards,
        reason,
        species: "",
        again: set !== NEW && again,
        treatment_id: set === NEW ? null : Number(set),
        values:
          set === NEW
            ? plan.factors.map((one) => ({
                factor_id: one.id,
                value: values[one.id] ?? "",
                family: one === glue && asksFamily && family ? (family as Schemas["GlueFamily"]) : null,
              }))
            : [],
      }),
    );
    if (done) navigate("../saw");
  };
  return (
    <details className="mt-4 border-t rule pt-3">
      <summary className="link min-h-6">Let pieces join</summary>
      <form
        className="mt-2 grid max-w-[34rem] gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void join();
        }}
      >
        <Pick
          label="They are of"
          value={set}
          options={[
            [NEW, "a set that is new"],
            ...plan.treatments
              .filter((one) => !one.left_out)
              .map((one) => [String(one.id), one.name] as const),
          ]}
          onChange={setSet}
        />
        {set !== NEW && (
          <label className="flex min-h-[44px] items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-layout"
              checked={again}
              onChange={(event) => setAgain(event.target.checked)}
            />
            The set is redone: let it stand beside the old one
          </label>
        )}
        {set === NEW &&
          plan.factors.map((factor) => (
            <label key={factor.id} className="block">
              <span className="label">{factor.words}</span>
              <input
                className="entry"
                list={`late-${factor.id}`}
                value={values[factor.id] ?? ""}
                aria-invalid={isFaulty(act.problem, "value") || isFaulty(act.problem, "values")}
                onChange={(event) => setValues({ ...values, [factor.id]: event.target.value })}
              />
              <datalist id={`late-${factor.id}`}>
                {factor.levels.map((one) => (
                  <option key={one.id} value={one.name} />
                ))}
              </datalist>
            </label>
          ))}
        {asksFamily && (
          <Pick
            label="Its family, for its cautions"
            value={family}
            options={[["", "choose"], ...(shop?.families ?? []).map((one) => [one, one] as const)]}
            onChange={setFamily}
          />
        )}
        <label className="block">
          <span className="label">How many</span>
          <input
            className="entry"
            inputMode="numeric"
            value={pieces}
            aria-invalid={isFaulty(act.problem, "pieces")}
            onChange={(event) => setPieces(event.target.value)}
          />
        </label>
        <label className="block">
          <span className="label">From the boards (new ones are added; part them by commas)</span>
          <input
            className="entry"
            value={boards}
            list="late-boards"
            aria-invalid={isFaulty(act.problem, "boards")}
            onChange={(event) => setBoards(event.target.value)}
          />
          <datalist id="late-boards">
            {plan.boards.map((one) => (
              <option key={one.id} value={one.name} />
            ))}
          </datalist>
        </label>
        <label className="block">
          <span className="label">Why; it stays beside the result</span>
          <input
            className="entry"
            value={reason}
            aria-invalid={isFaulty(act.problem, "pieces") && reason.trim() === ""}
            onChange={(event) => setReason(event.target.value)}
          />
        </label>
        <button type="submit" className="press press-on justify-self-start" disabled={act.busy}>
          Let them join, and saw them
        </button>
        <Trouble problem={act.problem} />
      </form>
    </details>
  );
}
