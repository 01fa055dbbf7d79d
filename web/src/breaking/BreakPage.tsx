// Break: the next piece, the live load, the broken face; by hand where there is no rig.
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { FACES, Station, useTrial } from "../app/TrialShell";
import { FixtureDrawing } from "../drawings/FixtureDrawing";
import { useShop } from "../shop/queries";
import { useUnits } from "../shop/useUnits";
import { Ask } from "../ui/Ask";
import { convert, plainSize } from "../ui/format";
import { useKeys } from "../ui/keys";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { BreakSoWhat } from "./BreakSoWhat";
import { CheckWeight } from "./CheckWeight";
import { HandBreak } from "./HandBreak";
import { EMPTY_JUDGEMENT, faceKeys, JudgeFace, type Judgement, toBody } from "./JudgeFace";
import { JudgeFaces } from "./JudgeFaces";
import { KeptBreak } from "./KeptBreak";
import { LogDrop } from "./LogDrop";
import { Settled } from "./MayIStop";
import { PracticePanel, StartPractice } from "./PracticePanel";
import { exclude, keepPull, markOdd, putBack, retryPull, useBreak } from "./queries";
import { RigPanel } from "./RigPanel";
import { StoppedPull } from "./StoppedPull";
import { speak } from "./speech";
import { useLive } from "./useLive";

type Piece = Schemas["BreakPiece"];

const NO_RIG = "none";
const typedOn = (rig: Schemas["BreakRig"]) => `${rig.id} typed`;

export function BreakPage() {
  const { id, rack, selected, select } = useTrial();
  const view = useBreak(id, selected);
  const shop = useShop().data;
  const act = useAct(id);
  const { force, show } = useUnits();
  const [taken, setTaken] = useState<string | null>(null);
  const [judgement, setJudgement] = useState<Judgement>(EMPTY_JUDGEMENT);
  const [search, setSearch] = useSearchParams();
  const facing = search.has(FACES);
  const setFacing = (now: boolean) => setSearch(now ? { [FACES]: "" } : {}, { replace: true });
  const [asking, setAsking] = useState<"odd" | "aside" | null>(null);

  const piece = view.data?.piece ?? undefined;
  const rigs = view.data?.rigs ?? [];
  // the rig is the plan's; another one that is taken stays until the plan's is taken again
  const planned = String(view.data?.rig_id ?? NO_RIG);
  const choice = taken ?? planned;
  const rig = rigs.find((one) => choice === String(one.id) || choice === typedOn(one));
  const rigView = shop?.rigs.find((one) => one.id === rig?.id);
  const streamed = rig?.sends && choice === String(rig.id) ? rigView : undefined;
  const { live, feed, version } = useLive(streamed?.id ?? null);
  const last = piece?.pulls.at(-1);

  const stopped = !facing && last?.state === "stopped" ? last : undefined;
  const kept = last?.state === "kept" ? last : undefined;

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new pull begins with an unjudged face
  useEffect(
    () => setJudgement({ ...EMPTY_JUDGEMENT, outcome: last?.outcome ?? "" }),
    [piece?.id, last?.id, last?.outcome],
  );

  const keep = async () => {
    if (!stopped || !piece || act.busy) return;
    if (!(await act.run(() => keepPull(id, stopped.id, toBody(judgement))))) return;
    speak(show(stopped.load_n, force));
    select(null);
  };
  const label = kept ? undefined : piece?.label;
  useEffect(() => speak(label ? `next ${label}` : ""), [label]);
  const retry = () => (stopped ?? kept) && void act.run(() => retryPull(id, (stopped ?? kept)?.id ?? 0));
  const setAside = async (reason: string) => {
    if (!piece) return false;
    return act.run(async () => {
      if (stopped) await keepPull(id, stopped.id, toBody(judgement));
      await exclude(id, piece.id, reason);
    });
  };
  useKeys({
    ...(stopped && piece ? faceKeys(judgement, piece, setJudgement) : {}),
    Enter: { words: "keep the break, go to the next piece", press: () => void keep() },
    R: { words: "try again: load the same piece once more", press: () => void retry() },
    X: { words: "set aside with a reason", press: () => piece && (stopped || kept) && setAsking("aside") },
    O: {
      words: "looks odd (before the number is known)",
      press: () => piece?.can.includes("mark_odd") && setAsking("odd"),
    },
  });

  if (!view.data) return <Station aside={null}>Opening …</Station>;
  const head = piece && (
    <>
      {!stopped && !kept && !view.data.pried && (
        <div className="w-72">
          <Pick
            label="The load comes from"
            value={choice}
            options={[
              ...rigs.flatMap((one) => [
                [String(one.id), one.name] as const,
                ...(one.sends ? [[typedOn(one), `${one.name}, typed by hand`] as const] : []),
              ]),
              [NO_RIG, "no rig of the shop: as it is typed"],
            ]}
            onChange={(now) => setTaken(now === planned ? null : now)}
          />
        </div>
      )}
      <OddMark
        piece={piece}
        onMark={() => setAsking("odd")}
        onClear={() => void act.run(() => markOdd(id, piece.id, ""))}
      />
    </>
  );
  return (
    <Station
      aside={
        <>
          {facing && <p>The loads stand here again when the faces are judged.</p>}
          {view.data.to_judge > 0 && !facing && (
            <button type="button" className="press" onClick={() => setFacing(true)}>
              Judge {view.data.to_judge} faces, shuffled
            </button>
          )}
          {!facing && (
            <BreakSoWhat
              view={view.data}
              piece={piece}
              peakMpa={live?.pull?.peak_mpa ?? stopped?.strength ?? null}
              place={live?.pull?.place || piece?.place || ""}
            />
          )}
          {rack.practice && piece && !view.data.pried && !live?.practice && (
            <StartPractice onStarted={(one) => setTaken(String(one))} />
          )}
          {streamed && live?.practice && piece && <PracticePanel rigId={streamed.id} pieceId={piece.id} />}
        </>
      }
    >
      {facing && <JudgeFaces onDone={() => setFacing(false)} />}
      <div inert={view.isPlaceholderData}>
        {facing ? null : piece ? (
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
        {piece && !facing && (
          <>
            {(kept || streamed) && (
              <div className="mt-2 flex flex-wrap items-end gap-3 border-t rule pt-2">{head}</div>
            )}
            {rig && !stopped && !kept && <CheckWeight rig={rig} />}
            {piece.pair &&
              !kept &&
              (piece.pair.rig_id !== (rig?.id ?? null) || piece.pair.version !== (rig?.version ?? null)) && (
                <p className="mt-2 border-l-4 border-amber pl-3">
                  Its pair {piece.pair.label} was broken on another rig or card: {piece.pair.rig}
                  {piece.pair.version !== null && `, version ${piece.pair.version}`}. Their difference will
                  hold that too.
                </p>
              )}
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
            ) : streamed ? (
              <RigPanel rig={streamed} piece={piece} live={live} feed={feed} version={version} pull={last} />
            ) : stopped ? (
              <StoppedPull piece={piece} pull={stopped} />
            ) : (
              <HandBreak
                key={`${piece.id} ${choice}`}
                view={view.data}
                piece={piece}
                rig={rig}
                head={head}
                onKept={() => select(null)}
              />
            )}
            {!stopped && !kept && !view.data.pried && (
              <LogDrop key={piece.id} piece={piece} rigs={rigs} rigId={rig?.id} />
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
            {!asking && <Trouble problem={act.problem} />}
          </>
        )}
      </div>
      <p className="pencil mt-5 border-t rule pt-3">
        Eyes covered, shield down: pieces fly.{" "}
        {rig?.caution ?? "Nothing of you under a hanging weight or in line with a chain."} The rig's makers'
        instructions come before anything here.
      </p>
      {asking === "odd" && piece && (
        <Ask
          title={`What looks odd about ${piece.label}?`}
          label="Said now, before its number is known, it counts as evidence later"
          suggestions={["gap in the glue line", "knot beside the joint", "twisted", "starved of glue"]}
          press="Mark it"
          onClose={() => {
            act.clear();
            setAsking(null);
          }}
          problem={act.problem}
          onAnswer={(reason) => act.run(() => markOdd(id, piece.id, reason))}
        />
      )}
      {asking === "aside" && piece && (
        <Ask
          title={`Set ${piece.label} aside`}
          label="Why it does not count"
          suggestions={["loaded off-centre", "fixture slipped", "piece was damaged before"]}
          press="Set aside"
          onClose={() => {
            act.clear();
            setAsking(null);
          }}
          problem={act.problem}
          onAnswer={setAside}
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
        <Settled />
        <p className="label">
          {isNext ? `Next piece, ${left} ready` : piece.state === "broken" ? "Broken" : "Chosen piece"}
        </p>
        <h2 className="mono text-6xl leading-none font-semibold">{piece.label}</h2>
        <p className="mt-2">
          {piece.treatment || "its set is hidden"}, {piece.board}
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
  const done = count("void") ? "Nothing is left to break" : "Every piece is broken";
  return (
    <div>
      <h2 className="text-2xl">{open ? "No piece is ready to break" : done}</h2>
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
