// The boards in the shop: their sizes, what must be skipped, where they came from, a photo.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { removeBoard, saveBoard, sendBoardPhoto } from "./queries";

type View = Schemas["StockBoardView"];

export function StockBoards({ shop }: { shop: Schemas["ShopView"] }) {
  const [editing, setEditing] = useState<number | "new" | null>(shop.boards.length ? null : "new");
  return (
    <section aria-label="Boards">
      {shop.boards.length === 0 && (
        <p className="pencil py-2">
          None yet. With its size, a board’s yield is counted and its cut map is drawn.
        </p>
      )}
      {shop.boards.map((view) => (
        <BoardCard
          key={view.id}
          view={view}
          species={shop.species}
          rings={shop.rings}
          open={editing === view.id}
          onOpen={(open) => setEditing(open ? view.id : null)}
        />
      ))}
      {editing === "new" ? (
        <BoardForm rings={shop.rings} species={shop.species} onDone={() => setEditing(null)} />
      ) : (
        <button type="button" className="press mt-3" onClick={() => setEditing("new")}>
          Add boards
        </button>
      )}
    </section>
  );
}

interface CardProps {
  view: View;
  species: string[];
  rings: Schemas["ShopView"]["rings"];
  open: boolean;
  onOpen: (open: boolean) => void;
}

function BoardCard({ view, species, rings, open, onOpen }: CardProps) {
  const act = useAct();
  const { entry: board, users } = view;
  const send = (file: File | undefined) => file && void act.run(() => sendBoardPhoto(view.id, file));
  return (
    <div className="border-b rule py-2">
      <div className="flex items-start gap-3">
        {view.photo_id !== null && (
          <a href={`/api/shop/photos/${view.photo_id}`} target="_blank" rel="noreferrer">
            <img src={`/api/shop/photos/${view.photo_id}`} alt={board.name} className="h-16 border rule" />
          </a>
        )}
        <div className="min-w-0 grow">
          <p className="flex flex-wrap items-baseline gap-x-3">
            <strong>{board.name}</strong> <span className="label">{board.species}</span>
            <span className="grow" />
            <label className="link cursor-pointer">
              photo
              <input
                type="file"
                accept="image/*"
                className="sr-only"
                onChange={(event) => send(event.target.files?.[0])}
              />
            </label>
            <button type="button" className="link" onClick={() => onOpen(!open)}>
              change
            </button>
            <button type="button" className="link" onClick={() => void act.run(() => removeBoard(view.id))}>
              remove
            </button>
          </p>
          <p className="pencil text-sm">
            {board.length} × {board.width} × {board.thickness}
            {board.rings ? `, ${board.rings} rings` : ""}
            {board.moisture ? `, moisture ${board.moisture}` : ""}
            {board.source ? `, ${board.source}` : ""}
            {board.price ? `, ${board.price}` : ""}
            {board.defects ? `; skip ${board.defects.replaceAll("\n", "; ")}` : ""}
          </p>
          {users.length > 0 && <p className="text-sm">sawn for “{users.join("”, “")}”</p>}
        </div>
      </div>
      {open && <BoardForm view={view} species={species} rings={rings} onDone={() => onOpen(false)} />}
      <Trouble problem={act.problem} />
    </div>
  );
}

const EMPTY: Schemas["StockBoardEntry"] = {
  name: "",
  species: "",
  length: "",
  width: "",
  thickness: "",
  moisture: "",
  rings: "",
  source: "",
  defects: "",
  price: "",
  count: "1",
};

interface FormProps {
  view?: View;
  species: string[];
  rings: Schemas["ShopView"]["rings"];
  onDone: () => void;
}

function BoardForm({ view, species, rings, onDone }: FormProps) {
  const act = useAct();
  const [there] = useState(view);
  const { form, set, text } = useForm(there?.entry ?? EMPTY, act.problem);
  const save = async () => {
    if (await act.run(() => saveBoard(form, there))) onDone();
  };
  return (
    <form
      className="my-3 grid grid-cols-2 items-start gap-3 border-l-4 border-layout pl-3 sm:grid-cols-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {text("name", view ? "Name" : "Name (numbered when several)", "Ash plank")}
      <label>
        <span className="label block">Wood</span>
        <input
          className="entry"
          list="species"
          value={form.species}
          onChange={(event) => set({ species: event.target.value })}
        />
      </label>
      <datalist id="species">
        {species.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      {view ? <span className="hidden sm:block" /> : text("count", "How many alike", "1")}
      {text("length", "Length", "1900 mm")}
      {text("width", "Width", "60 mm")}
      {text("thickness", "Thickness", "26 mm")}
      {text("moisture", "Moisture", "9 %")}
      <Pick
        label="Rings"
        value={form.rings}
        options={[["", "not noted"], ...rings.map((one) => [one, one] as const)]}
        onChange={(rings) => set({ rings })}
      />
      {text("price", "Price", "18.50")}
      <div className="col-span-2 sm:col-span-3">{text("source", "Where it came from", "the old mill")}</div>
      <label className="col-span-2 sm:col-span-3">
        <span className="label block">To skip, one stretch a line, from one end</span>
        <textarea
          className="entry"
          rows={2}
          placeholder="400 to 460 knot"
          value={form.defects}
          aria-invalid={isFaulty(act.problem, "defects")}
          onChange={(event) => set({ defects: event.target.value })}
        />
      </label>
      <div className="col-span-2 sm:col-span-3">
        <Trouble problem={act.problem} />
      </div>
      <button type="submit" className="press press-on" disabled={act.busy}>
        {view ? "Save the board" : "Put into the shop"}
      </button>
      <button type="button" className="press press-plain" onClick={onDone}>
        Leave it
      </button>
    </form>
  );
}
