// The flow: Plan to Compare, navigation and progress in one line that fills from left to right.
import { Link, NavLink, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useToday } from "../over/queries";
import { duration } from "../ui/format";
import { Trouble } from "../ui/Trouble";
import { useNow } from "../ui/useNow";
import { useOpenShop } from "./shopContext";

interface Props {
  trial: Schemas["RackView"];
  onUndo: () => void;
  onRedo: () => void;
  problem: Schemas["Problem"] | null;
  onDismiss: () => void;
}

export function Flow({ trial, onUndo, onRedo, problem, onDismiss }: Props) {
  const [search] = useSearchParams();
  const openShop = useOpenShop();
  const keep = search.get("piece") ? `?piece=${search.get("piece")}` : "";
  return (
    <header className="border-b border-graphite">
      <div className="grid items-end gap-x-6 gap-y-2 px-4 pt-3 pb-3 lg:grid-cols-[15.5rem_1fr_auto] xl:grid-cols-[17.3rem_1fr_auto]">
        <h1 className="line-clamp-2 text-[1.2rem]" title={trial.question}>
          {trial.question}
          {trial.practice && <span className="label ml-2 whitespace-nowrap">practice</span>}
        </h1>
        <nav aria-label="Stations" className="grid grid-cols-6 gap-2">
          {trial.flow.map((station) => (
            <NavLink
              key={station.name}
              to={`${station.name.toLowerCase()}${keep}`}
              className="group block min-h-[44px] pt-2"
            >
              {({ isActive }) => (
                <>
                  <span className="flex items-baseline justify-between gap-1">
                    <span
                      className={`head text-[1.05rem] ${isActive ? "text-layout" : "group-hover:text-layout"}`}
                    >
                      {station.name}
                    </span>
                    <span className="mono pencil text-sm">
                      {station.done === station.of ? station.of : `${station.done}/${station.of}`}
                      <span className="sr-only"> pieces</span>
                    </span>
                  </span>
                  <span className="mt-1 block h-[5px] bg-rule">
                    <span
                      className={`block h-full ${isActive ? "bg-layout" : "bg-graphite"}`}
                      style={{ width: `${station.of ? (100 * station.done) / station.of : 0}%` }}
                    />
                  </span>
                  <span className={`block h-[3px] ${isActive ? "bg-layout" : ""}`} />
                </>
              )}
            </NavLink>
          ))}
        </nav>
        <div className="flex items-center gap-4 lg:justify-end">
          <Link to="/" className="block min-h-[44px] leading-tight lg:text-right">
            <span className="head text-layout">Today</span>
            <ClampsLine />
          </Link>
          <button type="button" className="press px-3" onClick={openShop}>
            Shop
          </button>
        </div>
      </div>
      <div className="flex min-h-8 flex-wrap items-center gap-x-5 border-t rule px-4 text-sm">
        {trial.undo ? (
          <button type="button" className="link py-1" onClick={onUndo}>
            Undo: {trial.undo}
          </button>
        ) : (
          <span className="pencil py-1">Nothing to undo</span>
        )}
        {trial.redo && (
          <button type="button" className="link py-1" onClick={onRedo}>
            Redo: {trial.redo}
          </button>
        )}
        <NavLink className="link ml-auto py-1" to={`history${keep}`}>
          History
        </NavLink>
        {problem && (
          <Trouble problem={problem}>
            <button type="button" className="link ml-3" onClick={onDismiss}>
              Close
            </button>
          </Trouble>
        )}
      </div>
    </header>
  );
}

function ClampsLine() {
  const clamps = useToday().data?.clamps ?? [];
  const now = useNow();
  const pieces = clamps.reduce((sum, line) => sum + line.labels.length, 0);
  if (!pieces) return <span className="block text-sm">nothing in clamps</span>;
  const next = clamps.find((line) => line.due_utc)?.due_utc;
  const left = next ? (Date.parse(next) - now) / 1000 : null;
  return (
    <span className="block text-sm whitespace-nowrap">
      {pieces} in clamps
      {left !== null && (
        <>
          ,{" "}
          <strong className={left < 0 ? "text-iron" : ""}>
            {left < 0 ? `${duration(left)} over` : duration(left)}
          </strong>
        </>
      )}
    </span>
  );
}
