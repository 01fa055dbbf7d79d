// Labels to print: which sheet, where to begin on it, how it will look.
import { useState } from "react";
import { useTrial } from "../app/TrialShell";
import { Pick } from "../ui/Pick";
import { useLabelSheets } from "./queries";

export function Labels() {
  const { id } = useTrial();
  const sheets = useLabelSheets(id);
  const [sheet, setSheet] = useState(() => localStorage.getItem("label sheet") ?? "a4-3x8");
  const [first, setFirst] = useState("1");
  const places = sheets.data?.find((one) => one.name === sheet)?.places ?? 24;
  const begin = Math.min(places, Math.max(1, Number.parseInt(first, 10) || 1));
  const query = `sheet=${sheet}&first=${begin}`;
  return (
    <details className="mt-4 border-l-2 rule pl-3">
      <summary className="min-h-[32px] cursor-pointer py-1 text-layout">
        Print the labels, for both halves
      </summary>
      <div className="mt-2 grid items-start gap-5 md:grid-cols-[1fr_15rem]">
        <div className="grid gap-3">
          <Pick
            label="Printed on"
            value={sheet}
            options={(sheets.data ?? []).map((one) => [one.name, one.words] as const)}
            onChange={(name) => {
              localStorage.setItem("label sheet", name);
              setSheet(name);
            }}
          />
          <label className="w-40">
            <span className="label block">First free place (1 to {places})</span>
            <input
              className="entry"
              inputMode="numeric"
              value={first}
              onChange={(event) => setFirst(event.target.value)}
            />
          </label>
          <a
            className="press press-on inline-block w-fit"
            href={`/api/trials/${id}/labels.html?${query}`}
            target="_blank"
            rel="noreferrer"
          >
            Open to print
          </a>
          <p className="pencil text-sm">
            Print at 100 %, without margins. Each half has its label, its set, the side of the glue line as a
            thick stroke, and a code that opens the piece. Or write the labels by hand: they are short.
          </p>
        </div>
        <img
          src={`/api/trials/${id}/labels.svg?${query}`}
          alt="The first page of labels"
          className="w-full border rule bg-sheet"
        />
      </div>
    </details>
  );
}
