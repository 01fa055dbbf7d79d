// A table of earlier breaks comes in: the sheet as it is, what is understood of it, and what comes of it.

import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { onHanded, takeHanded } from "../app/dropped";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { ComesOf } from "./ComesOf";
import { FileFound } from "./FileFound";
import { Newer } from "./Newer";
import {
  dropTable,
  type FileView,
  type Found,
  lookAgain,
  lookAtFile,
  NOTHING_SAID,
  type Said,
  seeDoing,
} from "./queries";
import { ReadingPane } from "./ReadingPane";
import { SheetGrid } from "./SheetGrid";
import { WhatVaries } from "./WhatVaries";

export function BringInPage() {
  const [found, setFound] = useState<Found | null>(null);
  const [steps, setSteps] = useState<Said[]>([NOTHING_SAID]);
  const [pointed, setPointed] = useState("");
  const [shown, setShown] = useState(0);
  const [other, setOther] = useState<{ file: File; view: FileView } | null>(null);
  const trialId = Number(useSearchParams()[0].get("trial")) || null;
  const act = useAct();
  const navigate = useNavigate();
  const latest = useRef(0);
  const said = steps.at(-1) ?? NOTHING_SAID;
  const read = async (file: File) => {
    const view = await dropTable(file, "");
    const told = trialId !== null ? view.kept?.said : undefined;
    setFound(told ? await lookAgain(view.sha256, told) : view);
    setSteps(told ? [NOTHING_SAID, told] : [NOTHING_SAID]);
    setPointed("");
    setShown(0);
    setOther(null);
  };
  const drop = (file: File | undefined) =>
    file &&
    void act.run(async () => {
      setOther(null);
      const view = await lookAtFile(file);
      if (view.kind === "table") await read(file);
      else {
        setFound(null);
        setOther({ file, view });
      }
    });
  const dropLatest = useRef(drop);
  dropLatest.current = drop;
  useEffect(() => {
    const take = () => void dropLatest.current(takeHanded() ?? undefined);
    take();
    return onHanded(take);
  }, []);
  const look = (next: Said[]) =>
    void act.run(async () => {
      if (!found) return;
      latest.current += 1;
      const turn = latest.current;
      const view = await lookAgain(found.sha256, next.at(-1) ?? NOTHING_SAID);
      if (turn !== latest.current) return;
      setFound(view);
      setSteps(next);
    });
  const say = (change: Partial<Said>) => look([...steps, { ...said, ...change }]);
  const undo = () => steps.length > 1 && look(steps.slice(0, -1));
  useKeys({ U: { words: "undo what was said last", press: undo } });
  const sheet = found?.sheets[Math.min(shown, found.sheets.length - 1)];
  return (
    <div className="flex min-h-screen flex-col">
      <header className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-graphite px-4 py-3">
        <h1 className="text-2xl">{found ? found.name : trialId === null ? "Bring in" : "A newer file"}</h1>
        <p className="pencil grow">
          Nothing is written to the shop before “{trialId === null ? "Bring it in" : "Take over"}”.
        </p>
        {found && (
          <>
            <button type="button" className="link" disabled={steps.length < 2} onClick={undo}>
              Undo <span className="pencil">U</span>
            </button>
            <button type="button" className="link" onClick={() => setFound(null)}>
              Another file
            </button>
          </>
        )}
        <Link className="link" to="/">
          Today
        </Link>
      </header>
      {!found || !sheet ? (
        <Drop busy={act.busy} onFile={drop}>
          <Trouble problem={act.problem} />
          {other && (
            <FileFound
              file={other.file}
              view={other.view}
              onTable={() => void act.run(() => read(other.file))}
            />
          )}
        </Drop>
      ) : (
        <div className="grid flex-1 grid-cols-1 lg:grid-cols-[minmax(0,1fr)_19rem_18rem]">
          <section className="min-w-0 px-3 py-3" aria-label="The sheet as it is">
            {found.sheets.length > 1 && (
              <div className="mb-2 flex flex-wrap gap-2" role="tablist">
                {found.sheets.map((one, at) => (
                  <button
                    key={one.name}
                    type="button"
                    role="tab"
                    aria-selected={at === shown}
                    className={`press ${at === shown ? "press-on" : "press-plain"}`}
                    onClick={() => setShown(at)}
                  >
                    {one.name}
                  </button>
                ))}
              </div>
            )}
            <SheetGrid sheet={sheet} pointed={pointed} onPoint={setPointed} />
          </section>
          <main className="border-l rule bg-sheet px-4 py-3">
            <Trouble problem={act.problem} />
            {found.kept && steps.length === 1 && <Kept kept={found.kept} busy={act.busy} onTake={say} />}
            <ReadingPane
              found={found}
              said={said}
              pointed={pointed}
              onPoint={setPointed}
              onSay={say}
              busy={act.busy}
            />
            {trialId === null && found.varies.length > 0 && (
              <WhatVaries found={found} said={said} onSay={say} />
            )}
          </main>
          {trialId === null ? (
            <ComesOf found={found} said={said} onTaken={(id) => navigate(`/trials/${id}/compare`)} />
          ) : (
            <Newer
              trialId={trialId}
              found={found}
              said={said}
              onTaken={() => navigate(`/trials/${trialId}/compare`)}
            />
          )}
        </div>
      )}
    </div>
  );
}

interface KeptProps {
  kept: NonNullable<Found["kept"]>;
  busy: boolean;
  onTake: (said: Said) => void;
}

/** The way an earlier file of the kind was read, offered for this one. */
function Kept({ kept, busy, onTake }: KeptProps) {
  return (
    <section className="mb-3 border-l-4 border-layout bg-layout-pale px-3 py-2" aria-label="Read before">
      <p>
        Its sheets and headings are those of <span className="mono break-words">{kept.name}</span>, of which
        you said {kept.said.answers.length + kept.said.roles.length + kept.said.layouts.length} things.
      </p>
      <button type="button" className="press mt-2" disabled={busy} onClick={() => onTake(kept.said)}>
        Read it as that one
      </button>
    </section>
  );
}

interface DropProps {
  busy: boolean;
  onFile: (file: File | undefined) => void;
  children: React.ReactNode;
}

function Drop({ busy, onFile, children }: DropProps) {
  const [over, setOver] = useState(false);
  return (
    <main className="mx-auto w-full max-w-[44rem] px-5 py-8">
      <label
        className={`block cursor-pointer border-2 border-dashed px-5 py-12 text-center text-xl ${over ? "border-layout bg-layout-pale" : "rule"}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          onFile(event.dataTransfer.files[0]);
        }}
      >
        {busy ? (
          <Reading />
        ) : (
          <>
            Drop a file here, or <span className="link">choose the file</span>
          </>
        )}
        <input
          type="file"
          accept=".xlsx,.xlsm,.ods,.xls,.csv,.tsv,.txt,.log,.zip"
          className="sr-only"
          aria-label="A file to bring in"
          disabled={busy}
          onChange={(event) => onFile(event.target.files?.[0])}
        />
      </label>
      {children}
      <p className="mt-4">
        <strong>A table of earlier breaks</strong>: a workbook (.xlsx, .ods, .xls) or a text table (.csv,
        .tsv, .txt), as it is: titles, averages, notes and colours may stay. It is looked at first. What
        cannot be known is asked; its own averages are computed again.
      </p>
      <p className="mt-2">
        <strong>A whole trial</strong> of another shop: a data package (.zip), as Compare gives it.
      </p>
      <p className="pencil mt-2">
        The log of a rig, or of the air in the shop, may be dropped here too, or anywhere in the program: it
        says what it is and where it goes.
      </p>
    </main>
  );
}

/** What is being done, step by step, with the seconds that go by: a table of 50,000 rows takes about ten. */
function Reading() {
  const [seconds, setSeconds] = useState(0);
  const [doing, setDoing] = useState<Schemas["Doing"] | null>(null);
  useEffect(() => {
    const clock = setInterval(() => {
      setSeconds((was) => was + 1);
      seeDoing().then(setDoing, () => setDoing(null));
    }, 1000);
    return () => clearInterval(clock);
  }, []);
  return (
    <span role="status">
      Reading …{seconds > 1 ? ` ${seconds} s` : ""}
      {doing && doing.step > 0 && (
        <>
          {`, ${doing.words} `}
          <progress value={doing.step} max={doing.of + 1} aria-label="How far the reading has come" />
        </>
      )}
    </span>
  );
}
