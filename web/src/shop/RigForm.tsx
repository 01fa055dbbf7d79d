// Setting up a rig: its address, what it prints, which number is the load, and its calibration; with its last lines.
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { useAct } from "../app/queries";
import { useLive } from "../break/useLive";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";

export function RigForm({ rig, onDone }: { rig?: Schemas["RigView"]; onDone: () => void }) {
  const act = useAct();
  const [shown] = useState({
    name: rig?.name ?? "",
    url: rig?.url ?? "",
    unit: rig?.unit ?? "kgf",
    capacity: rig?.capacity_typed ?? "",
    resolution: rig?.resolution_typed ?? "",
    number_index: String(rig?.number_index ?? 0),
    offset: rig?.offset ?? "0",
    factor: rig?.factor ?? "1",
  });
  const [form, setForm] = useState(shown);
  const text = (name: keyof typeof form, label: string, hint: string) => (
    <label>
      <span className="label">{label}</span>
      <input
        className="entry"
        value={form[name]}
        placeholder={hint}
        aria-invalid={act.problem?.field === name}
        onChange={(event) => setForm({ ...form, [name]: event.target.value })}
      />
    </label>
  );
  const save = async () => {
    const body = toBody(form);
    const done = await act.run(() =>
      rig
        ? ask(
            api.PUT("/api/shop/rigs/{rig_id}", {
              params: { path: { rig_id: rig.id } },
              body: { was: toBody(shown), now: body },
            }),
          )
        : ask(api.POST("/api/shop/rigs", { body })),
    );
    if (done) onDone();
  };
  return (
    <form
      className="my-3 grid gap-3 border-l-4 border-layout pl-3 sm:grid-cols-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {text("name", "Name", "Bench press")}
      {text("url", "Where its lines come from", "/dev/ttyUSB0 or socket://host:port")}
      <Pick
        label="It prints"
        value={form.unit}
        options={["kgf", "lbf", "N", "kN"].map((one) => [one, one] as const)}
        onChange={(unit) => setForm({ ...form, unit })}
      />
      <Pick
        label="The load is"
        value={form.number_index}
        options={["the first", "the second", "the third", "the fourth"].map(
          (words, index) => [String(index), `${words} number of a line`] as const,
        )}
        onChange={(number_index) => setForm({ ...form, number_index })}
      />
      {text("capacity", "It pulls up to", "5 kN")}
      {text("resolution", "It reads in steps of", "5 N")}
      {text("offset", "With nothing on it, it shows", "0")}
      {text("factor", "Multiply its reading by", "1")}
      <p className="pencil text-sm sm:col-span-2">
        Hang a known weight: true weight ÷ (shown − shown with nothing on it) is the factor. Every break keeps
        the calibration it was made with.
      </p>
      {rig && <LastLines rigId={rig.id} />}
      <div className="sm:col-span-2">
        <Trouble problem={act.problem} />
      </div>
      <button type="submit" className="press press-on" disabled={act.busy}>
        Save the rig
      </button>
      <button type="button" className="press press-plain" onClick={onDone}>
        Leave it
      </button>
    </form>
  );
}

const toBody = <T extends { number_index: string }>(form: T) => ({
  ...form,
  number_index: Number(form.number_index) || 0,
});

function LastLines({ rigId }: { rigId: number }) {
  const { live } = useLive(rigId);
  return (
    <div className="sm:col-span-2" aria-live="off">
      <p className="label">
        Its last lines ({live?.state ?? "connecting"}
        {live?.unreadable ? `, ${live.unreadable} without a number` : ""}
        {live?.unit_seen ? `, they say ${live.unit_seen}` : ""}
        {live?.practice ? ", a simulated rig: for practice trials only" : ""})
      </p>
      <pre className="mono min-h-24 bg-plaster p-2 text-sm">
        {(live?.raw ?? [])
          .map(
            (line, index) => `${line.padEnd(26)} → ${(live?.numbers[index] ?? []).join(", ") || "no number"}`,
          )
          .join("\n")}
      </pre>
    </div>
  );
}
