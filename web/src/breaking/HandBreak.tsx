// A break read off by a person, entered as it is read on the rig that was used; then what the face looks like.
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useTrial } from "../app/TrialShell";
import { BucketDrawing } from "../drawings/BucketDrawing";
import { GaugeDial } from "../drawings/GaugeDial";
import { LeverDrawing } from "../drawings/LeverDrawing";
import { useUnits } from "../shop/useUnits";
import { Choice } from "../ui/Choice";
import { convert, plainSize } from "../ui/format";
import { useKeys } from "../ui/keys";
import { isFaulty, Trouble } from "../ui/Trouble";
import { When } from "../ui/When";
import { DialEntry } from "./DialEntry";
import { useBreakDraft } from "./draft";
import { faceKeys, JudgeFace, toBody } from "./JudgeFace";
import { LoadField } from "./LoadField";
import { PlatesEntry } from "./PlatesEntry";
import { breakByHand, useTypedLoad } from "./queries";
import { speak } from "./speech";

interface Props {
  view: Schemas["BreakView"];
  piece: Schemas["BreakPiece"];
  /** The rig that the load is read on; none for a load as it stands. */
  rig: Schemas["BreakRig"] | undefined;
  /** What stands in one line with the time of the break. */
  head: React.ReactNode;
  onKept: () => void;
}

export function HandBreak({ view, piece, rig, head, onKept }: Props) {
  const { id } = useTrial();
  const act = useAct(id);
  const { force, show } = useUnits();
  const { draft, set, clear } = useBreakDraft(id, piece.id);
  const entry = view.pried ? "face" : (rig?.entry ?? "peak");
  const plates = entry === "plates" || (entry === "lever" && draft.by_plates);
  const { judgement } = draft;
  const typed = useTypedLoad(
    id,
    { typed: draft.load, piece: piece.id, rig: rig?.id, no_rig: !rig, weighed: draft.weighed },
    !plates && entry !== "face",
  );
  const understood = typed.isError || !/\d/.test(draft.load) ? undefined : typed.data;
  const judge = (now: typeof judgement) => set({ judgement: now });
  // nothing is judged while weights still go on
  const judging = !plates || draft.ended;

  const send = (again: boolean, load = draft.load) =>
    act.run(() =>
      breakByHand(id, {
        piece: piece.id,
        judgement: toBody(again ? { ...judgement, outcome: "held" } : judgement),
        load: plates || entry === "face" ? "" : load,
        held: "",
        rig: rig?.id,
        no_rig: !rig && !view.pried,
        version: rig?.version,
        weighed: draft.weighed,
        stacks: plates ? draft.stacks : [],
        hold: draft.hold,
        pried_with: draft.pried,
        at_utc: draft.at_utc,
        again,
        dial: draft.dial ?? [],
      }),
    );
  const keep = async (load = draft.load) => {
    if (act.busy || !judging || !(await send(false, load))) return;
    speak(understood ? show(understood.load_n, force) : "");
    clear();
    onKept();
  };
  const again = async () => {
    if (await send(true)) clear();
  };
  const face = faceKeys(judgement, piece, judge);
  useKeys({
    ...(judging ? face : {}),
    Enter: { words: "keep the break, go to the next piece", press: () => void keep() },
  });

  return (
    <form
      className="mt-2 border-t rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        {head}
        <When label="It broke" value={draft.at_utc} onChange={(at_utc) => set({ at_utc })} />
      </div>
      <p className="mt-2" role="status">
        {whatNext(plates ? "plates" : entry, judging)}
      </p>
      {rig?.minds.map((words) => (
        <p key={words} className="border-l-4 border-pencil pl-3">
          {words}
        </p>
      ))}
      {entry === "lever" && (
        <Choice
          label="What hangs"
          hideLabel
          value={draft.by_plates ? "plates" : "typed"}
          options={[
            ["typed", "typed, as a scale shows it"],
            ["plates", "plates, one by one"],
          ]}
          onChange={(way) => set({ by_plates: way === "plates" })}
        />
      )}
      {plates && rig && (
        <PlatesEntry
          trialId={id}
          rig={rig}
          piece={piece}
          draft={draft}
          set={set}
          onAgain={() => void again()}
        />
      )}
      {!plates && entry !== "face" && (
        <div className={entry === "peak" ? "" : "grid gap-4 sm:grid-cols-[1fr_15rem]"}>
          <div>
            {entry === "bucket" && (
              <Choice
                label="What is weighed"
                hideLabel
                value={draft.weighed}
                options={[
                  ["full", "the full bucket"],
                  ["inside", "what is in it, or litres of water"],
                ]}
                onChange={(weighed) => set({ weighed })}
              />
            )}
            <LoadField
              label={loadLabel(entry, rig, force.symbol)}
              value={draft.load}
              faulty={isFaulty(act.problem, "load")}
              understood={understood}
              face={face}
              onChange={(load) => set({ load })}
              onHeld={() => judge({ ...judgement, outcome: "held" })}
              onKeep={() => void keep()}
            />
          </div>
          <EntryDrawing entry={entry} rig={rig} load_n={understood?.load_n ?? null} />
        </div>
      )}
      {(plates || entry === "bucket") && judging && judgement.outcome === "broke" && (
        <label className="flex items-center gap-2">
          <span className="label">The last load hung, before it broke, for</span>
          <input
            className="entry mono w-32"
            value={draft.hold}
            placeholder="90 s"
            autoComplete="off"
            aria-invalid={isFaulty(act.problem, "hold")}
            onChange={(event) => set({ hold: event.target.value })}
          />
        </label>
      )}
      {entry !== "face" && (
        <DialEntry
          readings={draft.dial}
          loadUnit={rig?.gauge?.unit ?? force.symbol}
          faulty={isFaulty(act.problem, "dial")}
          onChange={(dial) => set({ dial })}
        />
      )}
      {view.pried && (
        <Choice
          label="Opened with"
          value={draft.pried}
          options={view.pried_with.map((one) => [one.key, one.words] as const)}
          onChange={(pried) => set({ pried })}
        />
      )}
      <Trouble
        problem={act.problem}
        onChoose={(load) => {
          set({ load });
          void keep(load);
        }}
      />
      {judging && (
        <JudgeFace value={judgement} piece={piece} onChange={judge}>
          <button type="submit" className="press press-main press-on grow" disabled={act.busy}>
            Keep, next piece<span className="block text-sm font-normal">Enter</span>
          </button>
          {!plates && !view.pried && (
            <button
              type="button"
              className="press press-plain min-h-[64px]"
              disabled={act.busy || !draft.load}
              onClick={() => void again()}
            >
              It held: load it again
            </button>
          )}
        </JudgeFace>
      )}
    </form>
  );
}

function whatNext(entry: Schemas["LoadEntry"], judging: boolean): string {
  if (entry === "face") return "Break it open, then judge its face. Enter keeps.";
  if (entry === "plates")
    return judging
      ? "Judge the face. Enter keeps."
      : "Put on one plate at a time; wait until it hangs still.";
  if (entry === "gauge") return "Type what the gauge showed at the break, then the face. Enter keeps.";
  if (entry === "bucket") return "Weigh the bucket after the break, then the face. Enter keeps.";
  return "Type the peak, then the face: letters and 0 to 4. Enter keeps.";
}

function loadLabel(entry: Schemas["LoadEntry"], rig: Schemas["BreakRig"] | undefined, unit: string): string {
  const ways = "41.5 · >60 · 30–35 · about 35 · 20 + 12.5";
  if (entry === "gauge" && rig?.gauge) return `Gauge, in ${rig.gauge.unit}, or a load with its unit`;
  if (entry === "bucket") return `Weighs, in ${unit}, or write the unit`;
  if (entry === "lever") return `At the lever's end, in ${unit} (${ways})`;
  return `Peak load, in ${unit} (${ways})`;
}

interface DrawingProps {
  entry: Schemas["LoadEntry"];
  rig: Schemas["BreakRig"] | undefined;
  load_n: number | null;
}

function EntryDrawing({ entry, rig, load_n }: DrawingProps) {
  const { length, force, show } = useUnits();
  if (entry === "gauge" && rig?.gauge) {
    const { gauge } = rig;
    const value = load_n === null ? null : Number((load_n / gauge.newton_per_unit).toPrecision(4));
    return <GaugeDial value={value} most={gauge.most} division={gauge.division} unit={gauge.unit} />;
  }
  if (entry === "bucket" && rig)
    return (
      <BucketDrawing share={load_n === null ? null : load_n / rig.capacity_n} label={show(load_n, force)} />
    );
  if (entry === "lever" && rig)
    return (
      <LeverDrawing
        arm_piece_mm={rig.arm_piece_mm}
        arm_hung_mm={rig.arm_hung_mm}
        balance_mm={rig.balance_mm}
        ratio={rig.ratio}
        say={(mm) => `${plainSize(convert(mm, length))} ${length.symbol}`}
      />
    );
  return null;
}
