// The one frame of everything that opens over the screen; Escape and a press beside it leave it.
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";

interface Props {
  title: React.ReactNode;
  open?: boolean;
  onClose: () => void;
  children: React.ReactNode;
}

export function Frame({ title, open = true, onClose, children }: Props) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-graphite/30" />
      <div className="fixed inset-0 grid place-items-start justify-center p-4 pt-[12vh]">
        <DialogPanel className="w-[min(34rem,92vw)] bg-sheet p-5 shadow-lg">
          <DialogTitle className="text-xl">{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
