// Cure: what pieces go through, what each must have had, and what is read off it, by keyboard from field to field.
import { useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Station, useTrial } from "../app/TrialShell";
import { measureSize, useMaking } from "../glue/queries";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { convert, dayTime, digits, plainSize } from "../ui/format";
import { Rows } from "../ui/Rows";
import { Trouble } from "../ui/Trouble";
import { Checks } from "./Checks";
import { Exposures } from "./Exposures";
import { Pulls } from "./Pulls";
import { noteDeviation, readOff, useCuring } from "./queries";

type Piece = Schemas["MakingPiece"];
type Curing = Schemas["CuringView"];

export function CurePage() {
  const { id } = useTrial();
  const making = useMaking(id);
  const curing = useCuring(id);
  if (!making.data || !curing.data) return <Station aside={null}>Opening …</Station>;
  const standing = making.data.pieces.filter((piece) => piece.state !== "void");
  return (
    <Station aside={<CureSoWhat pieces={standing} sizes={making.data.sizes} />}>
      <Exposures view={curing.data} />
      <Checks pieces={curing.data.pieces} />
      <Pulls pulls={curing.data.pulls} />
      <Measure pieces={standing} sizes={making.data.sizes} curing={curing.data} />
    </Station>
  );
}

interface Column {
  name: string;
  words: string;
  planned: string;
  size: boolean;
}

const READ: Record<string, string[]> = {
  sizes: [],
  mass: ["mass_before_g", "mass_after_g", "moisture_before_pct", "moisture_after_pct"],
  gap: ["gap_mm"],
};
const SHAPES = ["twisted", "shifted", "cupped", "open at the edge", "squeeze-out could not be taken off"];

function Measure({
  pieces,
  sizes,
  curing,
}: {
  pieces: Piece[];
  sizes: Schemas["SizeColumn"][];
  curing: Curing;
}) {
  const { id, selected, select } = useTrial();
  const act = useAct(id);
  const { length, area, show } = useUnits();
  const fields = useRef(new Map<string, HTMLInputElement>());
  const [what, setWhat] = useState("sizes");
  const [noting, setNoting] = useState<Piece | null>(null);
  const more = new Map(curing.pieces.map((piece) => [piece.id, piece]));
  const planned = (size: Schemas["SizeColumn"]) =>
    size.planned_mm === null ? "" : plainSize(convert(size.planned_mm, length));
  const columns: Column[] =
    what === "sizes"
      ? sizes.map((size) => ({ name: size.name, words: size.words, planned: planned(size), size: true }))
      : (READ[what] ?? []).map((name) => ({
          name,
          words: curing.reading_names[name] ?? name,
          planned: "",
          size: false,
        }));
  const keyOf = (piece: Piece, column: Column) => `${piece.id} ${column.name}`;
  const flat = pieces.flatMap((piece) => columns.map((column) => keyOf(piece, column)));
  const next = (key: string) => {
    const follower = flat[flat.indexOf(key) + 1];
    const input = follower ? fields.current.get(follower) : undefined;
    input?.focus();
    input?.select();
  };
  const save = (piece: Piece, column: Column) => async (was: string, now: string) => {
    if (column.size) await measureSize(id, piece.id, column.name, was, now);
    else await readOff(id, piece.id, column.name, was, now);
    await act.run(async () => undefined);
  };
  const grid = {
    gridTemplateColumns: `5.5rem minmax(8rem,1fr) repeat(${columns.length}, minmax(5.6rem,8rem)) 6.4rem`,
  };
  return (
    <section aria-label="Measure each piece">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-2xl">Measure each piece</h2>
        <Choice
          label="What is read"
          hideLabel
          value={what}
          options={[
            ["sizes", "sizes"],
            ["mass", "mass, moisture"],
            ["gap", "gap"],
          ]}
          onChange={setWhat}
        />
      </div>
      <p className="pencil">
        {what === "sizes"
          ? "Calipers on the joint, in any unit or fraction. “=” is as on the piece before; several readings with semicolons between are averaged. "
          : what === "gap"
            ? "A feeler in the open joint, or the filler it took. "
            : "Before it goes in, and when it is out again. "}
        Enter goes on to the next field and the next piece.
      </p>
      <div className="mt-3 grid items-end gap-3 border-b border-pencil pb-1" style={grid}>
        <span className="label">piece</span>
        <span className="label">stands at</span>
        {columns.map((column) => (
          <span key={column.name} className="label">
            {column.words}{" "}
            {column.size && (
              <span className="font-normal">
                ({column.planned} {length.symbol} planned)
              </span>
            )}
          </span>
        ))}
        <span className="label text-right">glued area</span>
      </div>
      <Rows items={pieces} rowHeight={54} keyOf={(piece) => piece.id} label="Pieces to measure">
        {(piece) => (
          <div
            className={`grid items-center gap-3 border-b rule py-1 ${piece.id === selected ? "bg-layout-pale" : ""}`}
            style={grid}
          >
            <button
              type="button"
              className="mono min-h-[44px] text-left text-xl font-semibold"
              onClick={() => select(piece.id)}
            >
              {piece.label}
            </button>
            <span className="text-[0.95rem] leading-tight">
              {piece.words}{" "}
              <button type="button" className="link text-sm" onClick={() => setNoting(piece)}>
                {piece.deviation || "twisted, shifted …"}
              </button>
              {piece.off_plan.map((words) => (
                <span key={words} className="block text-sm text-iron">
                  {words}
                </span>
              ))}
            </span>
            {columns.map((column) => {
              const key = keyOf(piece, column);
              const value = column.size
                ? piece.measured[column.name]
                : more.get(piece.id)?.readings[column.name];
              return (
                <Field
                  key={column.name}
                  label={`${column.words} of ${piece.label}`}
                  hideLabel
                  saveWhileTyping={false}
                  value={value ?? ""}
                  placeholder={column.planned}
                  draftKey={`${id} ${key}`}
                  inputRef={(element) => {
                    if (element) fields.current.set(key, element);
                    else fields.current.delete(key);
                  }}
                  onSave={save(piece, column)}
                  onEnter={() => next(key)}
                />
              );
            })}
            <Area
              piece={piece}
              give={more.get(piece.id)?.area_give_mm2 ?? null}
              show={(one) => show(one, area)}
              per_si={area.per_si}
            />
          </div>
        )}
      </Rows>
      {noting && (
        <Ask
          title={`What is not as drawn on ${noting.label}`}
          label="It stays in the trial, and the result says so"
          suggestions={SHAPES}
          press="Note it"
          start={noting.deviation}
          allowEmpty
          onClose={() => {
            act.clear();
            setNoting(null);
          }}
          problem={act.problem}
          onAnswer={(words) => act.run(() => noteDeviation(id, noting.id, noting.deviation, words))}
        />
      )}
      {!noting && <Trouble problem={act.problem} />}
    </section>
  );
}

interface AreaProps {
  piece: Piece;
  give: number | null;
  per_si: number;
  show: (mm2: number) => string;
}

/** The glued area, and how well it is known once it is measured. */
function Area({ piece, give, per_si, show }: AreaProps) {
  return (
    <span className={`text-right leading-tight ${piece.area_as_measured ? "" : "pencil"}`}>
      {piece.glued_area_mm2 === null ? "–" : show(piece.glued_area_mm2)}
      {give !== null && piece.glued_area_mm2 !== null && (
        <span className="pencil block text-sm">± {digits(give * per_si, 2)}</span>
      )}
    </span>
  );
}

function CureSoWhat({ pieces, sizes }: { pieces: Piece[]; sizes: Schemas["SizeColumn"][] }) {
  const bends = useTrial().rack.strength_kind === "bending";
  const ready = pieces.filter((piece) => piece.state === "ready");
  const curing = pieces
    .filter((piece) => piece.state === "curing")
    .sort((a, b) => (a.ready_utc ?? "").localeCompare(b.ready_utc ?? ""));
  const missing = pieces.filter((piece) => sizes.some((size) => !piece.measured[size.name]));
  const first = curing[0];
  return (
    <>
      {ready.length > 0 && (
        <p>
          <strong>{ready.length}</strong> {ready.length === 1 ? "piece is" : "pieces are"} ready to break.
        </p>
      )}
      {first?.ready_utc && (
        <p>
          {curing.length} curing; the next, <span className="mono">{first.label}</span>, is ready{" "}
          {dayTime(first.ready_utc)}.
        </p>
      )}
      <p>
        {missing.length === 0
          ? "Every piece is measured."
          : `${missing.length} not measured yet. A result that uses planned sizes says so.${bends ? " 1 % of depth is 2 % of bending strength." : ""}`}
      </p>
      <p className="border-t rule pt-3">
        Before the test: check that the label still reads on both halves, and note a piece that twisted.
      </p>
    </>
  );
}
