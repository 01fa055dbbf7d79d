// The boards that the pieces come off: from the shop or by number, how many each holds, how evenly they share the sets.
import { useState } from "react";
import { useOpenShop } from "../app/shopContext";
import { useShop } from "../shop/queries";
import { Field } from "../ui/Field";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { CutList } from "./CutList";
import { Labels } from "./Labels";
import { More, Quantity, usePlanning } from "./planning";
import { addBoards, editBoard, fitBoard, removeBoard, takeBoards } from "./queries";

const SHOWN = 12;

export function Boards() {
  const { plan, settled } = usePlanning();
  const [all, setAll] = useState(false);
  const shown = all ? plan.boards : plan.boards.slice(0, SHOWN);
  return (
    <>
      {plan.boards.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>board</th>
              <th className="!text-left">wood</th>
              <th>holds</th>
              <th>
                <span className="sr-only">its yield, and removing it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((board, index) => (
              <BoardRow key={board.id} board={board} fits={plan.consequences.yields[index]} />
            ))}
          </tbody>
        </table>
      )}
      {plan.boards.length > SHOWN && !all && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          show all {plan.boards.length} boards
        </button>
      )}
      {plan.consequences.balance_words && <p className="mt-2">{plan.consequences.balance_words}</p>}
      {!settled && <AddBoards />}
      {!settled && <FromShop />}
      <Labels />
      <More title="Saw: kerf, trim, planing; cut list and cut maps">
        <div className="grid grid-cols-3 gap-4">
          <Quantity name="kerf_mm" />
          <Quantity name="trim_mm" />
          <Quantity name="planing_mm" />
        </div>
        <CutList />
      </More>
    </>
  );
}

type Board = ReturnType<typeof usePlanning>["plan"]["boards"][number];
type Fits = ReturnType<typeof usePlanning>["plan"]["consequences"]["yields"][number];

function BoardRow({ board, fits }: { board: Board; fits: Fits | undefined }) {
  const { id, settled, act } = usePlanning();
  const save = (field: string) => (was: string, now: string) =>
    editBoard(id, board.id, field, was, now).then(() => act.run(async () => undefined));
  const yields = fits?.fits ?? null;
  const off = yields !== null && yields !== board.holds;
  return (
    <tr>
      <td>
        <Field label="Board" hideLabel bare value={board.name} onSave={save("name")} />
      </td>
      <td>
        <Field label="Wood" hideLabel bare value={board.species} onSave={save("species")} />
      </td>
      <td className="w-20">
        <Field
          label="Holds"
          hideLabel
          bare
          disabled={settled}
          value={String(board.holds)}
          onSave={save("holds")}
        />
      </td>
      <td className="w-40 text-sm !whitespace-normal">
        {yields !== null && (
          <span className={(fits?.short ?? 0) > 0 ? "text-iron" : "pencil"}>
            yields {yields}
            {fits?.short ? `, no room for ${fits.short}` : ""}
            {fits?.trouble ? `: ${fits.trouble}` : ""}{" "}
          </span>
        )}
        {!settled && off && yields > 0 && (
          <button
            type="button"
            className="link mr-2"
            onClick={() => void act.run(() => fitBoard(id, board.id))}
          >
            hold {yields}
          </button>
        )}
        {!settled && (
          <button
            type="button"
            className="link"
            aria-label={`Remove ${board.name}`}
            onClick={() => void act.run(() => removeBoard(id, board.id))}
          >
            remove
          </button>
        )}
        <Trouble problem={act.problem} />
      </td>
    </tr>
  );
}

function AddBoards() {
  const { id, plan, act } = usePlanning();
  const last = plan.boards.at(-1);
  const missing = plan.consequences.boards_missing;
  const { form, set, text } = useForm({ count: "", species: "", holds: "" }, act.problem);
  const suggested = { holds: String(missing.holds), count: String(missing.count) };
  return (
    <form
      className="mt-3 grid grid-cols-[5.5rem_1fr_6.5rem_auto] items-end gap-3"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = {
          species: form.species || (last?.species ?? ""),
          holds: form.holds || suggested.holds,
          count: form.count || suggested.count,
        };
        if (await act.run(() => addBoards(id, body))) set({ count: "", holds: "" });
      }}
    >
      {text("count", "How many", suggested.count)}
      {text("species", "of what wood", last?.species || "ash")}
      {text("holds", "pieces each", suggested.holds)}
      <button type="submit" className="press" disabled={act.busy}>
        Add boards
      </button>
      <div className="col-span-4">
        <Trouble problem={act.problem} />
      </div>
    </form>
  );
}

/** Boards of the shop that are not in this plan yet: with a size, so that their yield and cut map are known. */
function FromShop() {
  const { id, plan, act } = usePlanning();
  const shop = useShop().data;
  const openShop = useOpenShop();
  const [chosen, setChosen] = useState<number[]>([]);
  const used = new Set(plan.boards.map((board) => board.stock_board_id));
  const free = (shop?.boards ?? []).filter((one) => !used.has(one.id) && one.users.length === 0);
  if (free.length === 0)
    return (
      <p className="mt-2 text-sm">
        {shop?.boards.length
          ? "Every board of the shop is spoken for. "
          : "No boards with sizes in the shop. "}
        <button type="button" className="link" onClick={openShop}>
          Put boards into the shop
        </button>{" "}
        and their yield and cut map are computed.
      </p>
    );
  const flip = (board: number) =>
    setChosen((now) => (now.includes(board) ? now.filter((one) => one !== board) : [...now, board]));
  return (
    <More title={`Take boards from the shop (${free.length} there)`} open={plan.boards.length === 0}>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {free.map(({ id: stock, entry: board }) => (
          <label key={stock} className="flex min-h-[44px] items-center gap-2 border-b rule">
            <input
              type="checkbox"
              className="size-5 shrink-0 accent-layout"
              checked={chosen.includes(stock)}
              onChange={() => flip(stock)}
            />
            <span className="leading-tight">
              {board.name} <span className="label">{board.species}</span>
              <span className="pencil block text-sm">
                {board.length} × {board.width} × {board.thickness}
                {board.defects ? `, ${board.defects.split("\n").length} to skip` : ""}
              </span>
            </span>
          </label>
        ))}
      </div>
      <div className="mt-2 flex gap-3">
        <button
          type="button"
          className="press"
          disabled={act.busy || chosen.length === 0}
          onClick={async () => {
            if (await act.run(() => takeBoards(id, chosen))) setChosen([]);
          }}
        >
          Take {chosen.length || "them"}
        </button>
        <button
          type="button"
          className="press press-plain"
          onClick={() => setChosen(free.map((one) => one.id))}
        >
          Choose all
        </button>
      </div>
      <Trouble problem={act.problem} />
    </More>
  );
}
