// What leaves the shop: a report, a picture, a workbook, the breaks, the method sheet, or the trial whole.
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Pick } from "../ui/Pick";
import { Trouble } from "../ui/Trouble";
import { type Asked, fileAddress } from "./queries";

const LICENCES: readonly (readonly [Schemas["Licence"], string])[] = [
  ["not said", "not said: who wants to use them asks"],
  ["CC0-1.0", "anything (CC0 1.0)"],
  ["CC-BY-4.0", "anything, the source named (CC BY 4.0)"],
  ["CC-BY-SA-4.0", "the source named, passed on alike (CC BY-SA 4.0)"],
];
/** What holds the slice that is shown; the others hold the trial. */
const OF_SLICE = new Set(["picture.svg", "breaks.csv"]);
const WIDE = 1600;
const HIGH = 1000;

interface Props {
  id: number;
  asked: Asked;
  view: Schemas["CompareView"];
  commands: Record<string, string> | undefined;
}

export function TakeAway({ id, asked, view, commands }: Props) {
  const [licence, setLicence] = useState<Schemas["Licence"]>("not said");
  const act = useAct(id);
  const broken = view.dots.length > 0;
  const files = [
    ...(broken
      ? ([
          ["report.html", "Report", "one page to read, print and send; its reader needs no program"],
          ["picture.svg", "Picture", "the answer without numbers, for a wall or a film"],
          ["workbook.xlsx", "Workbook", "pieces, sets and pairs as tables"],
          ["breaks.csv", "Breaks", "a row a piece, for any statistics program"],
        ] as const)
      : []),
    ["method.html", "Method sheet", "all that another shop needs to make the same test"] as const,
  ];
  const asPng = () =>
    act.run(() => savePng(fileAddress(id, asked, "picture.svg"), `adhaero-trial-${id}.png`));
  return (
    <section className="border-t rule pt-3" aria-label="Take it away">
      <h3 className="text-base">Take it away</h3>
      <ul className="mt-1">
        {files.map(([name, words, what]) => (
          <li key={name} className="mt-1">
            <a
              className="link inline-block min-h-6"
              href={fileAddress(id, OF_SLICE.has(name) ? asked : { ...asked, slice: "" }, name)}
              download
            >
              {words}
            </a>
            {name === "picture.svg" && (
              <>
                {" "}
                <button
                  type="button"
                  className="link min-h-6"
                  disabled={act.busy}
                  onClick={() => void asPng()}
                >
                  as PNG
                </button>
              </>
            )}
            <span className="pencil text-sm">: {what}</span>
          </li>
        ))}
      </ul>
      <details className="mt-2">
        <summary className="link min-h-6">The trial whole, for another shop</summary>
        <p className="pencil text-sm">
          A data package: every table, trace, photo and change, each column described. Addresses of rigs stay
          here.
        </p>
        <Pick label="Its data may be used for" value={licence} options={LICENCES} onChange={setLicence} />
        <a
          className="press mt-2 inline-block"
          href={`/api/trials/${id}/package.zip?${new URLSearchParams({ licence })}`}
          download
        >
          Data package
        </a>
      </details>
      {commands && view.groups.length > 0 && (
        <details className="mt-2 text-sm">
          <summary className="link min-h-6">The same numbers without this program</summary>
          {[commands.command, commands.factors_command].filter(Boolean).map((command) => (
            <code key={command} className="mono mt-1 block bg-sheet p-2 break-words">
              {command}
            </code>
          ))}
        </details>
      )}
      {view.source && (
        <p className="mt-2">
          Brought in from <span className="mono break-words">{view.source}</span>.{" "}
          <Link className="link" to={`/bring-in?trial=${id}`}>
            Bring in a newer file
          </Link>
        </p>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}

/** Draw the picture in the browser and save it as PNG. */
async function savePng(address: string, name: string): Promise<void> {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error("The picture cannot be had.");
  const image = new Image();
  const url = URL.createObjectURL(await answer.blob());
  try {
    await new Promise((done, fail) => {
      image.onload = done;
      image.onerror = fail;
      image.src = url;
    });
    const canvas = document.createElement("canvas");
    canvas.width = WIDE * 2;
    canvas.height = HIGH * 2;
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    const link = document.createElement("a");
    link.href = canvas.toDataURL("image/png");
    link.download = name;
    link.click();
  } finally {
    URL.revokeObjectURL(url);
  }
}
