// A new glue-up: which pieces, what is in the bottle, what the shop is like now.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { useShop } from "../shop/queries";
import { Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { When } from "../ui/When";
import { type GlueUp, startBatch } from "./queries";

const AT_ONCE = 6;
const EMPTY: GlueUp = {
  pieces: [],
  glue: "",
  family: "",
  opened_on: null,
  lot: "",
  kept: "",
  shop_temperature: "",
  humidity: "",
  wood_moisture: "",
  started_utc: null,
  note: "",
};

export function NewGlueUp({ making }: { making: Schemas["MakingView"] }) {
  const { id } = useTrial();
  const shop = useShop().data;
  const act = useAct(id);
  const [form, setForm] = useState<GlueUp>(() => readDraft(id));
  const waiting = making.pieces
    .filter((piece) => piece.can.includes("glue"))
    .sort((a, b) => a.glue_turn - b.glue_turn);
  if (waiting.length === 0) {
    const any = making.pieces.some((piece) => piece.can.includes("saw"));
    return (
      <p className="py-2">
        {any ? "Pieces come here once they are sawn and labelled." : "Every piece is in a glue-up."}
      </p>
    );
  }
  const planned = [...new Set(waiting.map((piece) => piece.glue).filter(Boolean))];
  const first = waiting.find((piece) => making.next_batch.includes(piece.id));
  const glue = form.glue || first?.glue || planned[0] || "";
  const offered = waiting.filter((piece) => !piece.glue || piece.glue === glue);
  const chosen = form.pieces.filter((one) => offered.some((piece) => piece.id === one));
  const timed = making.next_batch.filter((one) => offered.some((piece) => piece.id === one));
  const next = timed.length ? timed : offered.slice(0, AT_ONCE).map((piece) => piece.id);
  const pieces = chosen.length ? chosen : next;
  const shelf = shop?.glues.find((one) => one.name.toLowerCase() === glue.toLowerCase());
  const set = (change: Partial<GlueUp>) => {
    const next = { ...form, ...change };
    setForm(next);
    localStorage.setItem(`draft ${id} glue-up`, JSON.stringify(next));
  };
  const toggle = (pieceId: number) =>
    set({
      pieces: pieces.includes(pieceId) ? pieces.filter((one) => one !== pieceId) : [...pieces, pieceId],
    });
  const make = async () => {
    const body = {
      ...form,
      glue,
      pieces,
      opened_on: form.opened_on || shelf?.opened_on || null,
      lot: form.lot || shelf?.lot || "",
      kept: form.kept || shelf?.kept || "",
    };
    if (await act.run(() => startBatch(id, body))) set({ ...form, pieces: [], note: "", started_utc: null });
  };
  const text = (
    name: "lot" | "kept" | "shop_temperature" | "humidity" | "wood_moisture",
    label: string,
    hint: string,
  ) => (
    <label className="block">
      <span className="label">{label}</span>
      <input
        className="entry"
        value={form[name]}
        placeholder={hint}
        aria-invalid={isFaulty(act.problem, name)}
        onChange={(event) => set({ [name]: event.target.value })}
      />
    </label>
  );
  return (
    <section aria-label="New glue-up">
      <h2 className="text-xl">Next glue-up</h2>
      <p className="pencil">
        In the shuffled order of the plan; {AT_ONCE} at a time unless you choose otherwise.
      </p>
      <div className="mt-3 grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
        {planned.length > 0 ? (
          <Pick
            label="Glue"
            value={glue}
            options={planned.map((name) => [name, name] as const)}
            onChange={(name) => set({ glue: name, pieces: [] })}
          />
        ) : (
          <label className="block">
            <span className="label">Glue</span>
            <input
              className="entry"
              list="glues"
              value={form.glue}
              onChange={(event) => set({ glue: event.target.value })}
            />
            <datalist id="glues">
              {making.glues.map((name) => (
                <option key={name} value={name} />
              ))}
            </datalist>
          </label>
        )}
        {!shelf && (
          <Pick
            label="Its family"
            value={form.family}
            options={[["", "choose …"], ...(shop?.families ?? []).map((name) => [name, name] as const)]}
            faulty={isFaulty(act.problem, "family")}
            onChange={(family) => set({ family })}
          />
        )}
        <label className="block">
          <span className="label">Opened on</span>
          <input
            type="date"
            className="entry"
            value={form.opened_on ?? shelf?.opened_on ?? ""}
            onChange={(event) => set({ opened_on: event.target.value || null })}
          />
        </label>
        {text("lot", "Lot", shelf?.lot || "as on the bottle")}
        {text("kept", "Kept", shelf?.kept || "in the warm cupboard")}
        {text("shop_temperature", "Shop temperature", "19.5 °C")}
        {text("humidity", "Humidity", "52 %")}
        {text("wood_moisture", "Wood moisture", "9 %")}
        <When label="Started" value={form.started_utc} onChange={(started_utc) => set({ started_utc })} />
      </div>
      <ul className="mt-3 flex flex-wrap gap-2" aria-label="Pieces of this glue-up">
        {offered.map((piece) => (
          <li key={piece.id}>
            <button
              type="button"
              aria-pressed={pieces.includes(piece.id)}
              className={`press ${pieces.includes(piece.id) ? "press-on" : "press-plain"}`}
              onClick={() => toggle(piece.id)}
            >
              <span className="mono text-lg">{piece.label}</span>{" "}
              <span className="font-normal">{piece.treatment}</span>
            </button>
          </li>
        ))}
      </ul>
      <label className="mt-3 block">
        <span className="label">Note</span>
        <input className="entry" value={form.note} onChange={(event) => set({ note: event.target.value })} />
      </label>
      <Trouble problem={act.problem} />
      <button
        type="button"
        className="press press-main press-on mt-3 w-full"
        disabled={pieces.length === 0 || act.busy}
        onClick={() => void make()}
      >
        Make a glue-up of {pieces.length} {pieces.length === 1 ? "piece" : "pieces"}
      </button>
    </section>
  );
}

function readDraft(id: number): GlueUp {
  try {
    return {
      ...EMPTY,
      ...(JSON.parse(localStorage.getItem(`draft ${id} glue-up`) ?? "{}") as Partial<GlueUp>),
    };
  } catch {
    return EMPTY;
  }
}
