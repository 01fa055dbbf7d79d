// A log that other software recorded, dropped onto the piece: looked at first, then taken as one pull or as many.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { useUnits } from "../shop/useUnits";
import { duration } from "../ui/format";
import { Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { type LogColumns, takeLog, useLog } from "./queries";

interface Props {
  piece: Schemas["BreakPiece"];
  rigs: Schemas["BreakRig"][];
  rigId: number | undefined;
}

const START: LogColumns = {
  unit: "",
  time: "",
  load: "",
  displacement: "",
  rate: "",
  take: "tries",
  at_utc: "",
};

export function LogDrop({ piece, rigs, rigId }: Props) {
  const [file, setFile] = useState<File | null>(null);
  const [over, setOver] = useState(false);
  const onRig = rigs.filter((one) => one.entry !== "face");
  if (onRig.length === 0 || !piece.can.includes("load")) return null;
  if (file)
    return (
      <TakeLog
        key={`${file.name} ${file.size}`}
        file={file}
        piece={piece}
        rigs={onRig}
        rigId={rigId ?? onRig[0]?.id ?? 0}
        onDone={() => setFile(null)}
      />
    );
  return (
    <label
      className={`mt-3 block cursor-pointer border border-dashed px-3 py-2 ${over ? "border-layout bg-layout-pale" : "rule"}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        setFile(event.dataTransfer.files[0] ?? null);
      }}
    >
      Recorded by other software? Drop its log here, or <span className="link">choose the file</span>.
      <input
        type="file"
        accept=".csv,.txt,.tsv,.log,text/*"
        className="sr-only"
        aria-label="A log of the rig"
        onChange={(event) => setFile(event.target.files?.[0] ?? null)}
      />
    </label>
  );
}

interface TakeProps {
  file: File;
  piece: Schemas["BreakPiece"];
  rigs: Schemas["BreakRig"][];
  rigId: number;
  onDone: () => void;
}

function TakeLog({ file, piece, rigs, rigId, onDone }: TakeProps) {
  const { id } = useTrial();
  const act = useAct(id);
  const { force, show } = useUnits();
  const [rig, setRig] = useState(rigId);
  const [columns, setColumns] = useState(START);
  const set = (change: Partial<LogColumns>) => setColumns((old) => ({ ...old, ...change }));
  const log = useLog(id, piece.id, file, rig, columns);
  const seen = log.isError ? undefined : log.data;
  const take = async () => {
    if (await act.run(() => takeLog(id, piece.id, file, rig, columns))) onDone();
  };
  const column = (name: "time" | "load" | "displacement" | "rate", label: string, hint: string) => (
    <label>
      <span className="label block">{label}</span>
      <input
        className="entry"
        value={columns[name]}
        placeholder={hint}
        autoComplete="off"
        aria-invalid={isFaulty(log.problem, name)}
        onChange={(event) => set({ [name]: event.target.value })}
      />
    </label>
  );
  return (
    <section className="mt-3 grid gap-3 border-l-4 border-layout pl-3" aria-label={`The log ${file.name}`}>
      <h3 className="text-lg">{file.name}</h3>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <Pick
          label="Recorded on"
          value={String(rig)}
          options={rigs.map((one) => [String(one.id), one.name] as const)}
          onChange={(one) => setRig(Number(one))}
        />
        <Pick
          label="Its loads are"
          value={columns.unit}
          options={[
            ["", "in the unit it says"],
            ["N", "N"],
            ["kN", "kN"],
            ["kgf", "kg"],
            ["lbf", "lb"],
            ["raw", "what the rig shows"],
          ]}
          onChange={(unit) => set({ unit })}
        />
        {column("time", "Time is column", "1, or its heading")}
        {column("load", "Load is column", "2, or its heading")}
        {column("displacement", "Displacement is column", "none")}
        {column("rate", "Or lines a second", "no time in it")}
        <Pick
          label="Its pulls are"
          value={columns.take}
          options={[
            ["tries", `tries of ${piece.label}`],
            ["pieces", `of ${piece.label} and those that come next`],
          ]}
          onChange={(take) => set({ take })}
        />
      </div>
      {seen && (
        <div role="status">
          <p>
            {seen.samples} readings in {seen.unit === "raw" ? "the rig's own unit" : seen.unit}
            {seen.has_displacement && ", with displacement"}
            {seen.unreadable > 0 && `, ${seen.unreadable} lines without a number`}.{" "}
            {seen.pulls.length === 0 &&
              `No pull in it: nothing rose above ten steps of ${rigs.find((one) => one.id === rig)?.name ?? "the rig"} and fell again.`}
          </p>
          <ol>
            {seen.pulls.map((one, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a pull is its place in the log
              <li key={at}>
                <span className="mono font-semibold">{one.label}</span> {one.broke ? "broke at" : "reached"}{" "}
                <strong>{show(one.load_n, force)}</strong> in {duration(one.seconds)}
                {one.flags.length > 0 && <span className="pencil">. {one.flags.join(" ")}</span>}
              </li>
            ))}
          </ol>
        </div>
      )}
      <Trouble problem={act.problem ?? log.problem} />
      <div className="flex gap-3">
        <button
          type="button"
          className="press press-on"
          disabled={act.busy || !seen?.pulls.length}
          onClick={() => void take()}
        >
          {(seen?.pulls.length ?? 0) > 1
            ? `Take ${seen?.pulls.length} pulls, then judge`
            : "Take the pull, then judge"}
        </button>
        <button type="button" className="press press-plain" onClick={onDone}>
          Leave it
        </button>
      </div>
    </section>
  );
}
