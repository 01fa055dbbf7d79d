// Cure: when each piece is ready, and its sizes as measured, by keyboard from field to field.
import { useRef } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/queries";
import { Station, useTrial } from "../app/TrialShell";
import { measureSize, useMaking } from "../glue/queries";
import { Field } from "../ui/Field";
import { convert, dayTime, plainSize, useUnits } from "../ui/format";
import { Rows } from "../ui/Rows";

type Piece = Schemas["MakingPiece"];

export function CurePage() {
  const { id, selected, select } = useTrial();
  const making = useMaking(id);
  const act = useAct(id);
  const { length, area, show } = useUnits();
  const fields = useRef(new Map<string, HTMLInputElement>());
  if (!making.data) return <Station aside={null}>Opening …</Station>;
  const { pieces, sizes } = making.data;
  const standing = pieces.filter((piece) => piece.state !== "void");
  const flat = standing.flatMap((piece) => sizes.map((size) => `${piece.id} ${size.name}`));
  const next = (key: string) => {
    const follower = flat[flat.indexOf(key) + 1];
    const input = follower ? fields.current.get(follower) : undefined;
    input?.focus();
    input?.select();
  };
  const planned = (size: Schemas["SizeColumn"]) =>
    size.planned_mm === null ? "" : plainSize(convert(size.planned_mm, length));
  const columns = {
    gridTemplateColumns: `5.5rem minmax(8rem,1fr) repeat(${sizes.length}, minmax(6.2rem,8rem)) 5rem`,
  };
  return (
    <Station aside={<CureSoWhat pieces={standing} sizes={sizes} />}>
      <h2 className="text-2xl">Measure each piece</h2>
      <p className="pencil">
        Calipers on the joint, in any unit or fraction; Enter goes on to the next field and the next piece.
      </p>
      <div className="mt-3 grid items-end gap-3 border-b border-pencil pb-1" style={columns}>
        <span className="label">piece</span>
        <span className="label">stands at</span>
        {sizes.map((size) => (
          <span key={size.name} className="label">
            {size.words}{" "}
            <span className="font-normal">
              ({planned(size)} {length.symbol} planned)
            </span>
          </span>
        ))}
        <span className="label text-right">glued area</span>
      </div>
      <Rows items={standing} rowHeight={54} keyOf={(piece) => piece.id} label="Pieces to measure">
        {(piece) => (
          <div
            className={`grid items-center gap-3 border-b rule py-1 ${piece.id === selected ? "bg-layout-pale" : ""}`}
            style={columns}
          >
            <button
              type="button"
              className="mono min-h-[44px] text-left text-xl font-semibold"
              onClick={() => select(piece.id)}
            >
              {piece.label}
            </button>
            <span className="text-[0.95rem] leading-tight">
              {piece.words}
              {piece.off_plan.map((words) => (
                <span key={words} className="block text-sm text-iron">
                  {words}
                </span>
              ))}
            </span>
            {sizes.map((size) => {
              const key = `${piece.id} ${size.name}`;
              return (
                <Field
                  key={size.name}
                  label={`${size.words} of ${piece.label}`}
                  hideLabel
                  saveWhileTyping={false}
                  value={piece.measured[size.name] ?? ""}
                  placeholder={planned(size)}
                  draftKey={`${id} ${key}`}
                  inputRef={(element) => {
                    if (element) fields.current.set(key, element);
                    else fields.current.delete(key);
                  }}
                  onSave={async (was, now) => {
                    await measureSize(id, piece.id, size.name, was, now);
                    await act.run(async () => undefined);
                  }}
                  onEnter={() => next(key)}
                />
              );
            })}
            <span className={`text-right ${piece.area_as_measured ? "" : "pencil"}`}>
              {piece.glued_area_mm2 === null ? "–" : show(piece.glued_area_mm2, area)}
            </span>
          </div>
        )}
      </Rows>
    </Station>
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
        Before the test: knock off squeeze-out that would carry load, note a piece that twisted, and check
        that the label still reads on both halves.
      </p>
    </>
  );
}
