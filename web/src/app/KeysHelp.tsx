// The keys of the screen, shown with `?`.
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { listKeys, useKeys } from "../ui/keys";

export function KeysHelp() {
  const [open, setOpen] = useState(false);
  useKeys({ "?": { words: "show these keys", press: () => setOpen(true) } });
  return (
    <Dialog open={open} onClose={() => setOpen(false)} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-graphite/30" />
      <div className="fixed inset-0 grid place-items-center p-4">
        <DialogPanel className="w-[min(28rem,92vw)] bg-sheet p-5 shadow-lg">
          <DialogTitle className="text-xl">Keys on this screen</DialogTitle>
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
        </DialogPanel>
      </div>
    </Dialog>
  );
}
