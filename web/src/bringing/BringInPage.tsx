// A table of earlier breaks comes in: the sheet as it is, what is understood of it, and what comes of it.
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useAct } from "../app/changes";
import { useKeys } from "../ui/keys";
import { Trouble } from "../ui/Trouble";
import { ComesOf } from "./ComesOf";
import { dropTable, type Found, lookAgain, NOTHING_SAID, type Said } from "./queries";
import { ReadingPane } from "./ReadingPane";
import { SheetGrid } from "./SheetGrid";

export function BringInPage() {
  const [found, setFound] = useState<Found | null>(null);
  const [steps, setSteps] = useState<Said[]>([NOTHING_SAID]);
  const [pointed, setPointed] = useState("");
  const [shown, setShown] = useState(0);
  const act = useAct();
  const navigate = useNavigate();
  const latest = useRef(0);
  const said = steps.at(-1) ?? NOTHING_SAID;
  const drop = (file: File | undefined, encoding = "") =>
    file &&
    void act.run(async () => {
      setFound(await dropTable(file, encoding));
      setSteps([NOTHING_SAID]);
      setPointed("");
      setShown(0);
    });
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
        <h1 className="text-2xl">{found ? found.name : "Bring in a table"}</h1>
        <p className="pencil grow">Nothing is written to the shop before “Bring it in”.</p>
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
            <ReadingPane
              found={found}
              said={said}
              pointed={pointed}
              onPoint={setPointed}
              onSay={say}
              busy={act.busy}
            />
          </main>
          <ComesOf found={found} said={said} onTaken={(id) => navigate(`/trials/${id}/compare`)} />
        </div>
      )}
    </div>
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
          "Reading …"
        ) : (
          <>
            Drop a table of breaks here, or <span className="link">choose the file</span>
          </>
        )}
        <input
          type="file"
          accept=".xlsx,.xlsm,.ods,.xls,.csv,.tsv,.txt"
          className="sr-only"
          aria-label="A table of breaks"
          disabled={busy}
          onChange={(event) => onFile(event.target.files?.[0])}
        />
      </label>
      {children}
      <p className="mt-4">
        A workbook (.xlsx, .ods, .xls) or a text table (.csv, .tsv, .txt), as it is: titles, averages, notes
        and colours may stay. It is looked at first. What cannot be known is asked; its own averages are
        computed again.
      </p>
      <p className="pencil mt-2">
        A log of one pull goes to its piece, under Break; the file of a thermometer to the shop drawer, under
        Computer.
      </p>
    </main>
  );
}
