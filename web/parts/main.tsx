// A page for tests only: mounts one drawing or control at a time, and answers what formatters say (tests/parts).
import { createRoot, type Root } from "react-dom/client";
import "../src/styles.css";
import { ProblemError, type Schemas } from "../src/api/client";
import { readLines } from "../src/api/lines";
import { CurveFigure } from "../src/charts/CurveFigure";
import { LiveTrace } from "../src/charts/LiveTrace";
import { LoadBands } from "../src/charts/LoadBands";
import { placeNames } from "../src/charts/lines";
import { PowerCurve } from "../src/charts/PowerCurve";
import { Strip } from "../src/charts/Strip";
import { WeakEndFigure } from "../src/charts/WeakEndFigure";
import { CutMap } from "../src/drawings/CutMap";
import { FixtureDrawing } from "../src/drawings/FixtureDrawing";
import { JointDrawing } from "../src/drawings/JointDrawing";
import { Lanes } from "../src/drawings/Lanes";
import { PieceGlyph } from "../src/drawings/PieceGlyph";
import { Rack } from "../src/drawings/Rack";
import { SetUpDrawing } from "../src/drawings/SetUpDrawing";
import { listTicks, pickStep } from "../src/drawings/ticks";
import { Ask } from "../src/ui/Ask";
import { Choice } from "../src/ui/Choice";
import { Field } from "../src/ui/Field";
import * as format from "../src/ui/format";
import { useKeys } from "../src/ui/keys";
import { Pick } from "../src/ui/Pick";
import { Trouble } from "../src/ui/Trouble";
import { When } from "../src/ui/When";

// biome-ignore lint/suspicious/noExplicitAny: props come from a test as JSON
type Props = any;

const heard: unknown[] = [];
const hear = (...words: unknown[]) => {
  heard.push(words.length === 1 ? words[0] : words);
};

/** A field whose server answers as the test says: with nothing, or with a problem. */
function TestedField({ answer, ...props }: Props) {
  return (
    <Field
      {...props}
      onSave={async (was: string, now: string) => {
        hear(was, now);
        if (answer) throw new ProblemError(answer as Schemas["Problem"]);
      }}
    />
  );
}

function Keyed() {
  useKeys({
    " ": { words: "space", press: () => hear("space") },
    Enter: { words: "enter", press: () => hear("enter") },
    R: { words: "again", press: () => hear("R") },
  });
  return <input aria-label="typed" />;
}

const PARTS: Record<string, (props: Props) => React.ReactNode> = {
  Ask: ({ refused, ...props }) => (
    <Ask
      {...props}
      problem={refused}
      onAnswer={async (text) => {
        hear(text);
        return !refused;
      }}
      onClose={() => hear("closed")}
    />
  ),
  Choice: (props) => <Choice {...props} onChange={hear} />,
  CurveFigure: (props) => <CurveFigure {...props} />,
  CutMap: (props) => <CutMap {...props} />,
  Field: (props) => <TestedField {...props} />,
  FixtureDrawing: (props) => <FixtureDrawing {...props} />,
  JointDrawing: (props) => <JointDrawing {...props} />,
  Keyed: () => <Keyed />,
  Lanes: (props) => <Lanes {...props} onChoose={hear} />,
  LiveTrace: (props) => <LiveTrace {...props} onPoint={hear} />,
  LoadBands: (props) => <LoadBands {...props} />,
  Pick: (props) => <Pick {...props} onChange={hear} />,
  PieceGlyph: (props) => (
    <svg viewBox="0 0 48 26" role="img" aria-label={props.piece.state}>
      <PieceGlyph {...props} />
    </svg>
  ),
  PowerCurve: (props) => <PowerCurve {...props} />,
  Rack: (props) => <Rack {...props} onSelect={hear} />,
  SetUpDrawing: (props) => <SetUpDrawing {...props} />,
  Strip: (props) => <Strip {...props} onSelect={hear} />,
  Trouble: (props) => <Trouble {...props} onChoose={hear} />,
  WeakEndFigure: (props) => <WeakEndFigure {...props} />,
  When: (props) => <When {...props} onChange={hear} />,
};

let root: Root | undefined;

/** What a stream of bytes, cut where the test cuts it, is read as. */
async function read(chunks: string[]): Promise<unknown[]> {
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      for (const chunk of chunks) controller.enqueue(encoder.encode(chunk));
      controller.close();
    },
  });
  const lines: unknown[] = [];
  await readLines({ data: stream, response: new Response() }, (line) => lines.push(line));
  return lines;
}

const parts = {
  mount(name: string, props: Props = {}) {
    const part = PARTS[name];
    if (!part) throw new Error(`no part ${name}`);
    root?.unmount();
    heard.length = 0;
    root = createRoot(document.getElementById("part") as HTMLElement);
    root.render(part(props));
  },
  heard: () => [...heard],
  format,
  ticks: { listTicks, pickStep },
  placeNames: (ends: { name: string; y: number }[], gap: number) => [...placeNames(ends, gap)],
  read,
};

declare global {
  interface Window {
    parts: typeof parts;
  }
}
window.parts = parts;
