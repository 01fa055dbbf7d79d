// The one frame of everything that opens over the screen; Escape and a press beside it leave it.
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";

interface Props {
  title: React.ReactNode;
  open?: boolean;
  /** A drawer stands at the right edge, as high as the screen; a question may open over it. */
  drawer?: boolean;
  onClose: () => void;
  children: React.ReactNode;
}

const PLACE = {
  question: "inset-0 grid place-items-start justify-center p-4 pt-[12vh]",
  drawer: "inset-y-0 right-0 flex w-[min(46rem,96vw)]",
};
const PANEL = { question: "w-[min(34rem,92vw)]", drawer: "w-full overflow-y-auto" };

export function Frame({ title, open = true, drawer = false, onClose, children }: Props) {
  const kind = drawer ? "drawer" : "question";
  return (
    <Dialog open={open} onClose={onClose} className={`relative ${drawer ? "z-20" : "z-30"}`}>
      <DialogBackdrop className="fixed inset-0 bg-graphite/30" />
      <div className={`fixed ${PLACE[kind]}`}>
        <DialogPanel className={`${PANEL[kind]} bg-sheet p-5 shadow-lg`}>
          <div className="flex items-center justify-between">
            <DialogTitle className={drawer ? "text-2xl" : "text-xl"}>{title}</DialogTitle>
            {drawer && (
              <button type="button" className="press press-plain" onClick={onClose}>
                Close
              </button>
            )}
          </div>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
