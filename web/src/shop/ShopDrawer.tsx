// The shop: glues, boards, clamps, rigs and units, in a drawer that opens over any screen.
import {
  Dialog,
  DialogBackdrop,
  DialogPanel,
  DialogTitle,
  Tab,
  TabGroup,
  TabList,
  TabPanel,
  TabPanels,
} from "@headlessui/react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { ClampStock } from "./ClampStock";
import { Computer } from "./Computer";
import { Glues } from "./Glues";
import { undoShop, useShop } from "./queries";
import { Rigs } from "./Rigs";
import { StockBoards } from "./StockBoards";
import { Units } from "./Units";
import { WorkHours } from "./WorkHours";

interface Props {
  open: boolean;
  onClose: () => void;
}

export function ShopDrawer({ open, onClose }: Props) {
  const shop = useShop().data;
  return (
    <Dialog open={open} onClose={onClose} className="relative z-20">
      <DialogBackdrop className="fixed inset-0 bg-graphite/30" />
      <div className="fixed inset-y-0 right-0 flex w-[min(46rem,96vw)]">
        <DialogPanel className="w-full overflow-y-auto bg-sheet p-5 shadow-lg">
          <div className="flex items-center justify-between">
            <DialogTitle className="text-2xl">The shop</DialogTitle>
            <button type="button" className="press press-plain" onClick={onClose}>
              Close
            </button>
          </div>
          {shop && <Shelves shop={shop} />}
          {shop?.undo && <Undo what={shop.undo} />}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Shelves({ shop }: { shop: Schemas["ShopView"] }) {
  const shelves = [
    ["Glues", shop.glues.length, <Glues key="glues" shop={shop} />],
    ["Boards", shop.boards.length, <StockBoards key="boards" shop={shop} />],
    ["Clamps", shop.clamps.length, <ClampStock key="clamps" shop={shop} />],
    ["Rigs", shop.rigs.length, <Rigs key="rigs" shop={shop} />],
    ["Hours", null, <WorkHours key="hours" hours={shop.hours} />],
    ["Units", null, <Units key="units" units={shop.units} />],
    ["Computer", null, <Computer key="computer" />],
  ] as const;
  return (
    <TabGroup className="mt-4">
      <TabList className="flex flex-wrap border-b border-graphite">
        {shelves.map(([name, number]) => (
          <Tab
            key={name}
            className="head min-h-[44px] cursor-pointer border-b-4 border-transparent px-3 text-[1.05rem] data-hover:text-layout data-selected:border-layout data-selected:text-layout"
          >
            {name} {number !== null && <span className="mono pencil text-sm">{number}</span>}
          </Tab>
        ))}
      </TabList>
      <TabPanels>
        {shelves.map(([name, , shelf]) => (
          <TabPanel key={name} className="pt-3">
            {shelf}
          </TabPanel>
        ))}
      </TabPanels>
    </TabGroup>
  );
}

function Undo({ what }: { what: string }) {
  const act = useAct();
  return (
    <div className="mt-6 border-t rule pt-3">
      <button type="button" className="link" onClick={() => void act.run(() => undoShop())}>
        Undo in the shop: {what}
      </button>
      <Trouble problem={act.problem} />
    </div>
  );
}
