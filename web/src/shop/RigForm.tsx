// Setting up a rig: its address, what it prints, which number is the load, and its calibration; with its last lines.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useLive } from "../breaking/useLive";
import { asOptions, Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { useForm } from "../ui/useForm";
import { saveRig } from "./queries";

interface Props {
  rig?: Schemas["RigView"];
  shop: Schemas["ShopView"];
  onDone: () => void;
}

const EMPTY: Schemas["RigEntry"] = {
  name: "",
  kind: "press",
  url: "",
  unit: "kgf",
  capacity: "",
  resolution: "",
  number_index: 0,
  displacement_index: null,
  displacement_unit: "mm",
  decimal_mark: "auto",
  baud: 115_200,
  parity: "none",
  stop_bits: 1,
  far_host: "",
  simulated: false,
  offset: "0",
  factor: "1",
  bore: "",
  lever_ratio: "",
  tare: "",
  fixtures: "",
  gauge_unit: "",
  arm_piece: "",
  arm_hung: "",
  lever: "",
  balance: "",
  handle: "",
  guide: "",
  check: "",
  check_give: "",
};

export function RigForm({ rig, shop, onDone }: Props) {
  const act = useAct();
  const [there] = useState(rig);
  const { form, set, text } = useForm(there?.entry ?? EMPTY, act.problem);
  const [baud, setBaud] = useState(String(form.baud));
  const kind = shop.rig_kinds.find((one) => one.name === form.kind);
  const needs = (field: string) => kind?.needs.includes(field) ?? false;
  const prints = form.url !== "";
  const isNetwork = /^(socket|rfc2217):/i.test(form.url.trim());
  const host = hostOf(form.url);
  const save = async () => {
    const now = { ...form, baud: wholeNumber(baud), simulated: form.simulated && isLoopback(form.url) };
    if (await act.run(() => saveRig(now, there))) onDone();
  };
  return (
    <form
      className="my-3 grid items-start gap-3 border-l-4 border-layout pl-3 sm:grid-cols-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {text("name", "Name", "Bench press")}
      <Pick
        label="What it is"
        value={form.kind}
        options={shop.rig_kinds.map((one) => [one.name, one.words] as const)}
        onChange={(now) => set({ kind: now })}
      />
      <p className="pencil text-sm sm:col-span-2">
        The load: {kind?.reading}. {kind?.caution}
      </p>
      {needs("bore") && text("bore", "Bore of the ram", "2 in")}
      {needs("gauge_unit") && (
        <Pick
          label="Its gauge shows"
          value={form.gauge_unit}
          options={[["", "not said"], ...shop.gauge_units.map((one) => [one, one] as const)]}
          onChange={(gauge_unit) => set({ gauge_unit })}
        />
      )}
      {text("capacity", "It pulls up to", needs("bore") ? "250 bar, or 20 kN" : "5 kN")}
      {text(
        "resolution",
        form.kind === "weights"
          ? "The smallest weight added"
          : needs("bore")
            ? "A division of the gauge"
            : "It reads in steps of",
        needs("bore") ? "5 bar" : "5 N",
      )}
      {needs("arm_piece") && text("arm_piece", "Pivot to the piece", "100 mm")}
      {needs("arm_hung") && text("arm_hung", "Pivot to what hangs or pulls", "1 m")}
      {needs("lever_ratio") && text("lever_ratio", "Or its ratio, if the arms are not known", "4")}
      {needs("lever") && text("lever", "The lever alone weighs", "2 kg")}
      {needs("balance") && text("balance", "Pivot to where it balances", "450 mm")}
      {needs("tare") && text("tare", "Hanger or bucket alone weighs", "1.2 kg")}
      {needs("handle") && text("handle", "At most may hang on its handle", "60 kg")}
      {text("url", "Where its lines come from (if it prints)", "/dev/ttyUSB0 or socket://host:port")}
      {prints && (
        <>
          <Pick
            label="It prints"
            value={form.unit}
            options={shop.load_units.map((one) => [one, one] as const)}
            onChange={(unit) => set({ unit })}
          />
          <Pick
            label="The load is"
            value={String(form.number_index)}
            options={["the first", "the second", "the third", "the fourth"].map(
              (words, index) => [String(index), `${words} number of a line`] as const,
            )}
            onChange={(index) => set({ number_index: Number(index) })}
          />
          <Pick
            label="How far the piece moved is"
            value={form.displacement_index == null ? "" : String(form.displacement_index)}
            options={[
              ["", "not in its lines"] as const,
              ...["the first", "the second", "the third", "the fourth"].map(
                (words, index) => [String(index), `${words} number of a line`] as const,
              ),
            ]}
            onChange={(index) => set({ displacement_index: index === "" ? null : Number(index) })}
          />
          {form.displacement_index != null && (
            <Pick
              label="In"
              value={form.displacement_unit}
              options={shop.travel_units.map((one) => [one, one] as const)}
              onChange={(displacement_unit) => set({ displacement_unit })}
            />
          )}
          <Pick
            label="The decimal mark of its lines"
            value={form.decimal_mark}
            options={asOptions(shop.decimal_marks)}
            onChange={(decimal_mark) => set({ decimal_mark })}
          />
          {!isNetwork || /^rfc2217:/i.test(form.url) ? (
            <div className="grid grid-cols-3 gap-2">
              <label className="min-w-0">
                <span className="label block">Baud</span>
                <input
                  className="entry"
                  inputMode="numeric"
                  value={baud}
                  aria-invalid={isFaulty(act.problem, "baud")}
                  onChange={(event) => setBaud(event.target.value)}
                />
              </label>
              <Pick
                label="Parity"
                value={form.parity}
                options={shop.parities.map((one) => [one, one] as const)}
                onChange={(parity) => set({ parity })}
              />
              <Pick
                label="Stop bits"
                value={String(form.stop_bits)}
                options={["1", "2"].map((one) => [one, one] as const)}
                onChange={(bits) => set({ stop_bits: Number(bits) })}
              />
            </div>
          ) : isLoopback(form.url) ? (
            <Tick
              words="It may be the practice rig: ask it"
              on={form.simulated === true}
              onChange={(simulated) => set({ simulated })}
            />
          ) : (
            <Tick
              words={`${host || "That computer"} may lie outside this workshop's network`}
              on={form.far_host !== "" && form.far_host === host}
              onChange={(on) => set({ far_host: on ? host : "" })}
            />
          )}
          {text("offset", "With nothing on it, it shows", "0")}
          {text("factor", "Multiply its reading by", "1")}
          <p className="pencil text-sm sm:col-span-2">
            Hang a known weight: true weight ÷ (shown − shown with nothing on it) is the factor. Every break
            keeps the calibration it was made with.
            {form.kind === "lever" &&
              " Its lines are multiplied by this factor alone: put the lever's ratio into it."}
          </p>
        </>
      )}
      {text("guide", "What guides the piece", "two rails, a screw against twist")}
      {text("check", "Check weight for a day of breaking", "20 kg")}
      {text("check_give", "It may be off by", "0.2 kg")}
      <Takes
        fixtures={shop.fixtures}
        chosen={form.fixtures ?? ""}
        onChange={(fixtures) => set({ fixtures })}
      />
      {rig?.entry.url && <LastLines rigId={rig.id} />}
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

interface TakesProps {
  fixtures: Schemas["ShopView"]["fixtures"];
  chosen: string;
  onChange: (fixtures: string) => void;
}

/** The fixtures that a rig takes; none chosen means all. */
function Takes({ fixtures, chosen, onChange }: TakesProps) {
  const now = chosen.split(" ").filter(Boolean);
  const flip = (name: string) =>
    onChange((now.includes(name) ? now.filter((one) => one !== name) : [...now, name]).sort().join(" "));
  return (
    <fieldset className="sm:col-span-2">
      <legend className="label">
        It takes the fixtures {now.length ? "" : "(all, while none is chosen)"}
      </legend>
      <div className="grid grid-cols-2 sm:grid-cols-3">
        {fixtures.map(({ key: name, words }) => (
          <label key={name} className="flex min-h-[36px] items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-layout"
              checked={now.includes(name)}
              onChange={() => flip(name)}
            />
            {words}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

interface TickProps {
  words: string;
  on: boolean;
  onChange: (on: boolean) => void;
}

const Tick = ({ words, on, onChange }: TickProps) => (
  <label className="flex min-h-[44px] items-center gap-2">
    <input
      type="checkbox"
      className="size-5 accent-layout"
      checked={on}
      onChange={(event) => onChange(event.target.checked)}
    />
    {words}
  </label>
);

const hostOf = (url: string) => {
  const match = /^(?:socket|rfc2217):\/\/(?:\[([^\]]+)\]|([^:/]+)):\d+\/?$/i.exec(url.trim());
  return (match?.[1] ?? match?.[2] ?? "").toLowerCase();
};
const isLoopback = (url: string) => /^socket:\/\/(127\.|localhost:|\[::1\])/i.test(url.trim());

/** A number as typed; what is none becomes 1, which the server refuses with words. */
const wholeNumber = (text: string) => Math.min(Math.max(Math.round(Number(text)) || 1, 1), 10_000_000);

const numberWords = (one: { value: number | null; unit: string | null; why: string }) =>
  one.value === null ? one.why : `${one.value}${one.unit ? ` ${one.unit}` : ""}`;

/** Control characters as pictures of themselves: a line shows what the rig really sent. */
const visible = (raw: string) =>
  Array.from(raw, (one) => (one < " " ? String.fromCharCode(0x2400 + one.charCodeAt(0)) : one)).join("");

function LastLines({ rigId }: { rigId: number }) {
  const { live } = useLive(rigId);
  return (
    <div className="sm:col-span-2" aria-live="off">
      <p className="label">
        Its last lines ({live?.state ?? "connecting"}
        {live?.unreadable ? `, ${live.unreadable} not read, the last: ${live.why_unreadable}` : ""}
        {live?.unit_seen ? `, they say ${live.unit_seen}` : ""}
        {live?.practice ? ", a simulated rig: for practice trials only" : ""})
      </p>
      <pre className="mono min-h-24 bg-plaster p-2 text-sm">
        {(live?.recent ?? [])
          .map(
            (line) =>
              `${visible(line.raw).padEnd(26)} → ${line.why || line.numbers.map(numberWords).join(", ")}`,
          )
          .join("\n")}
      </pre>
    </div>
  );
}
