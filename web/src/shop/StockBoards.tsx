// The boards in the shop: their sizes, what must be skipped, where they came from, a photo.
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";

type View = Schemas["StockBoardView"];

const RINGS = [
  ["", "not noted"],
  ["flat", "flat"],
  ["rift", "rift"],
  ["quarter", "quarter"],
] as const;

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
          key={view.board.id}
          view={view}
          species={shop.species}
          open={editing === view.board.id}
          onOpen={(open) => setEditing(open ? view.board.id : null)}
        />
      ))}
      {editing === "new" ? (
        <BoardForm species={shop.species} onDone={() => setEditing(null)} />
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
  open: boolean;
  onOpen: (open: boolean) => void;
}

function BoardCard({ view, species, open, onOpen }: CardProps) {
  const act = useAct();
  const { board, defects, users } = view;
  const path = { params: { path: { board_id: board.id } } };
  const send = (file: File | undefined) =>
    file &&
    void act.run(() =>
      ask(
        api.POST("/api/shop/boards/{board_id}/photo", {
          ...path,
          body: file as unknown as string,
          bodySerializer: (content: unknown) => content as BodyInit,
          headers: { "Content-Type": file.type || "application/octet-stream" },
        }),
      ),
    );
  return (
    <div className="border-b rule py-2">
      <div className="flex items-start gap-3">
        {board.photo_id !== null && (
          <a href={`/api/shop/photos/${board.photo_id}`} target="_blank" rel="noreferrer">
            <img src={`/api/shop/photos/${board.photo_id}`} alt={board.name} className="h-16 border rule" />
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
            <button
              type="button"
              className="link"
              onClick={() => void act.run(() => ask(api.DELETE("/api/shop/boards/{board_id}", path)))}
            >
              remove
            </button>
          </p>
          <p className="pencil text-sm">
            {board.length_typed} × {board.width_typed} × {board.thickness_typed}
            {board.rings ? `, ${board.rings} rings` : ""}
            {board.moisture_typed ? `, moisture ${board.moisture_typed}` : ""}
            {board.source ? `, ${board.source}` : ""}
            {board.price_typed ? `, ${board.price_typed}` : ""}
            {defects.length ? `; skip ${defects.map((one) => one.typed).join("; ")}` : ""}
          </p>
          {users.length > 0 && <p className="text-sm">sawn for “{users.join("”, “")}”</p>}
        </div>
      </div>
      {open && <BoardForm view={view} species={species} onDone={() => onOpen(false)} />}
      <Trouble problem={act.problem} />
    </div>
  );
}

const EMPTY = {
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

const toForm = ({ board, defects }: View) => ({
  name: board.name,
  species: board.species,
  length: board.length_typed,
  width: board.width_typed,
  thickness: board.thickness_typed,
  moisture: board.moisture_typed,
  rings: board.rings,
  source: board.source,
  defects: defects.map((one) => one.typed).join("\n"),
  price: board.price_typed,
  count: "1",
});

function BoardForm({ view, species, onDone }: { view?: View; species: string[]; onDone: () => void }) {
  const act = useAct();
  const [was] = useState(view ? toForm(view) : EMPTY);
  const { form, set, text } = useForm(was, act.problem);
  const save = async () => {
    const done = await act.run(() =>
      view
        ? ask(
            api.PUT("/api/shop/boards/{board_id}", {
              params: { path: { board_id: view.board.id } },
              body: { was, now: form },
            }),
          )
        : ask(api.POST("/api/shop/boards", { body: form })),
    );
    if (done) onDone();
  };
  return (
    <form
      className="my-3 grid grid-cols-2 items-end gap-3 border-l-4 border-layout pl-3 sm:grid-cols-3"
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
      <Pick label="Rings" value={form.rings} options={RINGS} onChange={(rings) => set({ rings })} />
      {text("price", "Price", "18.50")}
      <div className="col-span-2 sm:col-span-3">{text("source", "Where it came from", "the old mill")}</div>
      <label className="col-span-2 sm:col-span-3">
        <span className="label block">To skip, one stretch a line, from one end</span>
        <textarea
          className="entry"
          rows={2}
          placeholder="400 to 460 knot"
          value={form.defects}
          aria-invalid={act.problem?.field === "defects"}
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
