// The keys of the screen, shown with `?`.
import { useState } from "react";
import { Frame } from "../ui/Frame";
import { listKeys, useKeys } from "../ui/keys";

export function KeysHelp() {
  const [open, setOpen] = useState(false);
  useKeys({ "?": { words: "show these keys", press: () => setOpen(true) } });
  return (
    <Frame title={"Keys on this screen"} open={open} onClose={() => setOpen(false)}>
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-5 gap-y-2">
        {open &&
          listKeys().map(([key, words]) => (
            <div key={key + words} className="contents">
              <dt className="mono font-semibold">{key}</dt>
              <dd>{words}</dd>
            </div>
          ))}
      </dl>
      <p className="pencil mt-3 text-sm">PageDown, from a foot switch or a presenter, is Enter.</p>
      <button type="button" className="press press-plain mt-4" onClick={() => setOpen(false)}>
        Back
      </button>
    </Frame>
  );
}
