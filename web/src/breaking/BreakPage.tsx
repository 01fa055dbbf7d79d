// Break: the next piece, the live load, the broken face; by hand where there is no rig.
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Station, useTrial } from "../app/TrialShell";
import { FixtureDrawing } from "../drawings/FixtureDrawing";
import { useShop } from "../shop/queries";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { convert, digits, plainSize } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { BreakSoWhat } from "./BreakSoWhat";
import { HandBreak } from "./HandBreak";
import { EMPTY_JUDGEMENT, JudgeFace, type Judgement, QUARTERS, toBody } from "./JudgeFace";
import { KeptTrace } from "./KeptTrace";
import { PracticePanel } from "./PracticePanel";
import { exclude, keepPull, markOdd, putBack, retryPull, useBreak } from "./queries";
import { RigPanel } from "./RigPanel";
import { useLive } from "./useLive";

type Piece = Schemas["BreakPiece"];

export function BreakPage() {
  const { id, rack, selected, select } = useTrial();
  const view = useBreak(id, selected);
  const shop = useShop().data;
  const act = useAct(id);
  const [rigChoice, setRigChoice] = useState(() => localStorage.getItem("rig") ?? "");
  const [judgement, setJudgement] = useState<Judgement>(EMPTY_JUDGEMENT);
  const [asking, setAsking] = useState<"odd" | "aside" | null>(null);

  // a pried piece has no load: its broken face decides
  const rigs = rack.strength_kind === "none" ? [] : (shop?.rigs ?? []);
  const rig =
    rigChoice === "hand" ? undefined : (rigs.find((one) => String(one.id) === rigChoice) ?? rigs[0]);
  const { live, feed, version } = useLive(rig?.id ?? null);
  const piece = view.data?.piece ?? undefined;
  const last = piece?.pulls.at(-1);

  const stopped = last?.state === "stopped" ? last : undefined;
  const kept = last?.state === "kept" ? last : undefined;

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new pull begins with an unjudged face
  useEffect(
    () => setJudgement({ ...EMPTY_JUDGEMENT, outcome: (last?.outcome as Judgement["outcome"]) ?? "" }),
    [piece?.id, last?.id, last?.outcome],
  );

  const keep = async () => {
    if (!stopped || !piece || act.busy) return;
    if (await act.run(() => keepPull(id, stopped.id, toBody(judgement)))) select(null);
  };
  const retry = () => (stopped ?? kept) && void act.run(() => retryPull(id, (stopped ?? kept)?.id ?? 0));
  const setAside = async (reason: string) => {
    if (!piece) return;
    await act.run(async () => {
      if (stopped) await keepPull(id, stopped.id, toBody(judgement));
      await exclude(id, piece.id, reason);
    });
  };
  const torn = (quarters: number) =>
    stopped && setJudgement({ ...judgement, torn: QUARTERS[quarters] ?? "" });
  useKeys({
    ...Object.fromEntries(
      ["no torn wood", "a quarter torn", "half torn", "three quarters torn", "all torn wood"].map(
        (words, quarters) => [String(quarters), { words, press: () => torn(quarters) }],
      ),
    ),
    Enter: { words: "keep the break, go to the next piece", press: () => void keep() },
    B: { words: "it broke", press: () => stopped && setJudgement({ ...judgement, outcome: "broke" }) },
    H: { words: "it held", press: () => stopped && setJudgement({ ...judgement, outcome: "held" }) },
    R: { words: "try again: load the same piece once more", press: () => void retry() },
    X: { words: "set aside with a reason", press: () => piece && (stopped || kept) && setAsking("aside") },
    O: {
      words: "looks odd (before the number is known)",
      press: () => piece?.can.includes("mark_odd") && setAsking("odd"),
    },
  });

  if (!view.data) return <Station aside={null}>Opening …</Station>;
  return (
    <Station
      aside={
        <>
          <BreakSoWhat
            view={view.data}
            piece={piece}
            peakMpa={live?.pull?.peak_mpa ?? stopped?.strength ?? null}
            place={live?.pull?.place || piece?.place || ""}
          />
          {rig && live?.practice && piece && <PracticePanel rigId={rig.id} pieceId={piece.id} />}
        </>
      }
    >
      <div inert={view.isPlaceholderData}>
        {piece ? (
          <PieceHead
            piece={piece}
            fixture={rack.fixture}
            joint={rack.joint}
            isNext={piece.id === view.data.next_id}
            drawn={!stopped}
            left={view.data.left}
          />
        ) : (
          <NothingReady />
        )}
        {piece && (
          <>
            <div className="mt-3 flex flex-wrap items-end gap-3 border-t rule pt-3">
              {!stopped && rack.strength_kind !== "none" && (
                <div className="w-64">
                  <Pick
                    label="The load comes from"
                    value={rig ? String(rig.id) : "hand"}
                    options={[
                      ...rigs.map((one) => [String(one.id), one.entry.name] as const),
                      ["hand", "my hand: I type the peak"],
                    ]}
                    onChange={(choice) => {
                      localStorage.setItem("rig", choice);
                      setRigChoice(choice);
                    }}
                  />
                </div>
              )}
              <OddMark
                piece={piece}
                onMark={() => setAsking("odd")}
                onClear={() => void act.run(() => markOdd(id, piece.id, ""))}
              />
            </div>
            {kept ? (
              <KeptBreak
                piece={piece}
                pull={kept}
                excluded={isAside(rack, piece.id)}
                onAside={() => setAsking("aside")}
                onBack={() => void act.run(() => putBack(id, piece.id))}
                onNext={() => select(null)}
                onRetry={retry}
              />
            ) : rig ? (
              <RigPanel rig={rig} piece={piece} live={live} feed={feed} version={version} pull={last} />
            ) : (
              <HandBreak key={piece.id} piece={piece} onKept={() => select(null)} />
            )}
            {stopped && (
              <JudgeFace value={judgement} piece={piece} onChange={setJudgement}>
                <button
                  type="button"
                  className="press press-main press-on grow-[2]"
                  disabled={act.busy}
                  onClick={() => void keep()}
                >
                  Keep, next piece<span className="block text-sm font-normal">Enter</span>
                </button>
                <button type="button" className="press min-h-[64px] grow" disabled={act.busy} onClick={retry}>
                  Try again<span className="block text-sm font-normal">R</span>
                </button>
                <button
                  type="button"
                  className="press press-plain min-h-[64px] grow"
                  onClick={() => setAsking("aside")}
                >
                  Set aside …<span className="block text-sm font-normal">X</span>
                </button>
              </JudgeFace>
            )}
            <Trouble problem={act.problem} />
          </>
        )}
      </div>
      <p className="pencil mt-5 border-t rule pt-3">
        Eyes covered, shield down: pieces fly. Nothing of you under a hanging weight or in line with a chain.
        A press keeps pushing after the crack: hands off until it is released.
      </p>
      {asking === "odd" && piece && (
        <Ask
          title={`What looks odd about ${piece.label}?`}
          label="Said now, before its number is known, it counts as evidence later"
          suggestions={["gap in the glue line", "knot beside the joint", "twisted", "starved of glue"]}
          press="Mark it"
          onClose={() => setAsking(null)}
          onAnswer={(reason) => void act.run(() => markOdd(id, piece.id, reason))}
        />
      )}
      {asking === "aside" && piece && (
        <Ask
          title={`Set ${piece.label} aside`}
          label="Why it does not count"
          suggestions={["loaded off-centre", "fixture slipped", "piece was damaged before"]}
          press="Set aside"
          onClose={() => setAsking(null)}
          onAnswer={(reason) => void setAside(reason)}
        />
      )}
    </Station>
  );
}

const isAside = (rack: Schemas["RackView"], pieceId: number) =>
  rack.pieces.find((one) => one.id === pieceId)?.excluded ?? false;

interface HeadProps {
  piece: Piece;
  fixture: string;
  joint: string;
  isNext: boolean;
  drawn: boolean;
  left: number;
}

function PieceHead({ piece, fixture, joint, isNext, drawn, left }: HeadProps) {
  const { length } = useUnits();
  const sizes = piece.sizes.map((one) => `${one.words} ${plainSize(convert(one.mm, length))}`);
  return (
    <div className={`grid items-center gap-4 ${drawn ? "md:grid-cols-[1fr_19rem]" : ""}`}>
      <div>
        <p className="label">
          {isNext ? `Next piece, ${left} ready` : piece.state === "broken" ? "Broken" : "Chosen piece"}
        </p>
        <h2 className="mono text-6xl leading-none font-semibold">{piece.label}</h2>
        <p className="mt-2">
          {piece.treatment}, {piece.board}
          {piece.species ? `, ${piece.species}` : ""}
          {piece.words !== "" && <strong className="text-iron"> {piece.words}</strong>}
        </p>
        {sizes.length > 0 && (
          <p className={piece.unmeasured.length ? "text-iron" : ""}>
            {piece.unmeasured.length ? "not measured, planned sizes: " : "measured: "}
            {sizes.join(", ")} {length.symbol}
          </p>
        )}
      </div>
      {drawn && <FixtureDrawing fixture={fixture} joint={joint} solid={piece.solid} />}
    </div>
  );
}

interface OddProps {
  piece: Piece;
  onMark: () => void;
  onClear: () => void;
}

function OddMark({ piece, onMark, onClear }: OddProps) {
  if (piece.odd_reason)
    return (
      <p className="pb-2">
        Looks odd: {piece.odd_reason}.{" "}
        {piece.can.includes("mark_odd") && (
          <button type="button" className="link" onClick={onClear}>
            take back
          </button>
        )}
      </p>
    );
  if (!piece.can.includes("mark_odd")) return null;
  return (
    <button type="button" className="press press-plain" onClick={onMark}>
      Looks odd … <span className="pencil font-normal">O</span>
    </button>
  );
}

interface KeptProps {
  piece: Piece;
  pull: Schemas["PullView"];
  excluded: boolean;
  onAside: () => void;
  onBack: () => void;
  onNext: () => void;
  onRetry: () => void;
}

function KeptBreak({ piece, pull, excluded, onAside, onBack, onNext, onRetry }: KeptProps) {
  const { show, force, strength } = useUnits();
  const { rack } = useTrial();
  return (
    <section className="mt-3">
      <p className="text-xl">
        {pull.outcome_words} <strong>{show(pull.load_n, force)}</strong>
        {pull.load_typed
          ? ` (typed: ${pull.load_typed}${pull.load_through ? ` ${pull.load_through}` : ""})`
          : ""}
        {pull.load_point_reason ? ` (not at the highest: ${pull.load_point_reason})` : ""}
        {pull.held_typed ? `, held ${pull.held_typed} before` : ""},{" "}
        <strong>{show(pull.strength, strength(rack.strength_kind))}</strong>
      </p>
      <p>
        {pull.wood_failure_pct === null
          ? "torn wood not judged"
          : `${digits(pull.wood_failure_pct)} % torn wood`}
        {pull.failure ? `, failed ${pull.failure_words}` : ""}
        {pull.note ? `. ${pull.note}` : ""}
      </p>
      {pull.flags.map((flag) => (
        <p key={flag} className="pencil">
          {flag}
        </p>
      ))}
      {pull.source === "rig" && <KeptTrace pull={pull} />}
      {piece.pulls.length > 1 && <p>Loaded {piece.pulls.length} times; the last try counts.</p>}
      <div className="mt-3 flex flex-wrap gap-3">
        {excluded ? (
          <button type="button" className="press" onClick={onBack}>
            Put back
          </button>
        ) : (
          <button type="button" className="press press-plain" onClick={onAside}>
            Set aside … <span className="pencil font-normal">X</span>
          </button>
        )}
        <button type="button" className="press press-plain" onClick={onRetry}>
          Load it again <span className="pencil font-normal">R</span>
        </button>
        <button type="button" className="press press-on" onClick={onNext}>
          Go to the next piece
        </button>
      </div>
    </section>
  );
}

const WAITING: [Piece["state"], string][] = [
  ["planned", "to saw"],
  ["sawn", "to glue"],
  ["clamped", "in clamps"],
  ["curing", "curing"],
];

function NothingReady() {
  const { rack } = useTrial();
  const count = (state: Piece["state"]) => rack.pieces.filter((piece) => piece.state === state).length;
  const open = count("planned") + count("sawn") + count("clamped") + count("curing");
  return (
    <div>
      <h2 className="text-2xl">{open ? "No piece is ready to break" : "Every piece is broken"}</h2>
      {open > 0 && (
        <p className="mt-2">
          {WAITING.filter(([state]) => count(state) > 0)
            .map(([state, words]) => `${count(state)} ${words}`)
            .join(", ")}
          . Choose one that is curing in the rack to break it before its time.
        </p>
      )}
      {open === 0 && (
        <Link className="press press-on mt-4 inline-block" to="../compare">
          Compare
        </Link>
      )}
    </div>
  );
}
