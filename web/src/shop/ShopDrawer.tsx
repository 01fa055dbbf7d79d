// The shop: glues, boards, clamps, rigs and units, in a drawer that opens over any screen.
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { Frame } from "../ui/Frame";
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
    <Frame title="The shop" open={open} drawer onClose={onClose}>
      {shop && <Shelves shop={shop} />}
      {shop?.undo && <Undo what={shop.undo} />}
    </Frame>
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
