// Weights in steps: each plate put on is one press; what held and what did not follow by themselves.
import type { Schemas } from "../api/client";
import { PlateStack } from "../drawings/PlateStack";
import { useShop } from "../shop/queries";
import { useUnits } from "../shop/useUnits";
import { useKeys } from "../ui/keys";
import type { Draft } from "./draft";
import { useStack } from "./queries";

interface Props {
  trialId: number;
  rig: Schemas["BreakRig"];
  piece: Schemas["BreakPiece"];
  draft: Draft;
  set: (change: Partial<Draft>) => void;
  /** Unload and load again: what hung so far becomes a try of its own. */
  onAgain: () => void;
}

export function PlatesEntry({ trialId, rig, piece, draft, set, onAgain }: Props) {
  const { force, show } = useUnits();
  const plates = useShop().data?.plates ?? [];
  const stack = useStack(trialId, piece.id, rig.id, draft.hanging).data;
  const { hanging, stacks, ended } = draft;
  const hung = (id: number) => hanging.filter((one) => one === id).length;
  const finish = (outcome: "broke" | "held") => {
    const isKnown = stacks.length > 0 && String(stacks.at(-1)) === String(hanging);
    set({
      stacks: isKnown ? stacks : [...stacks, hanging],
      ended: true,
      judgement: { ...draft.judgement, outcome },
    });
  };
  const goOn = () => set({ ended: false });
  const put = (id: number) => set({ hanging: [...hanging, id], stacks: [...stacks, [...hanging, id]] });
  const takeOff = (id: number) => {
    const at = hanging.lastIndexOf(id);
    if (at >= 0) set({ hanging: hanging.filter((_, index) => index !== at) });
  };
  const back = () => set({ stacks: stacks.slice(0, -1), hanging: stacks.at(-2) ?? [] });
  const next = plates.find((one) => one.id === stack?.next_plate);
  useKeys(
    ended
      ? { Backspace: { words: "not broken yet: go on", press: goOn } }
      : {
          " ": { words: "put on the plate that is proposed", press: () => next && put(next.id) },
          B: { words: "it broke", press: () => finish("broke") },
          N: { words: "no more weights: it held", press: () => stacks.length > 0 && finish("held") },
          Backspace: { words: "take the last plate back", press: back },
          ...Object.fromEntries(
            plates.slice(0, 9).map((plate, index) => [
              String(index + 1),
              {
                words: `put on ${plate.entry.weight}`,
                press: () => hung(plate.id) < Number(plate.entry.number) && put(plate.id),
              },
            ]),
          ),
        },
  );
  const heaviest = Math.max(...plates.map((one) => one.weight_n), 1e-9);
  if (plates.length === 0)
    return (
      <p className="mt-2 border-l-4 border-pencil pl-3">
        The shop has no plates yet. Write down in the shop drawer, under Rigs, what each weighs and how many
        there are; or choose another way to enter the load.
      </p>
    );
  return (
    <section className="mt-2" aria-label="Plates">
      <div className="grid gap-4 sm:grid-cols-[1fr_14rem]">
        <div>
          <p className="mono text-6xl leading-none font-semibold" role="status">
            {show(stack?.load_n ?? rig.empty_n, force)}
          </p>
          <p className="pencil min-h-6">{stack?.words}</p>
          <fieldset className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(7.4rem,1fr))] gap-2">
            <legend className="label">Put on, heaviest first</legend>
            {plates.map((plate, index) => {
              const left = Number(plate.entry.number) - hung(plate.id);
              const beyond = stack?.beyond[String(plate.id)];
              return (
                <div key={plate.id} className="grid grid-cols-[1fr_2.75rem]">
                  <button
                    type="button"
                    className={`press min-h-[64px] px-1 ${plate.id === next?.id ? "press-on" : ""}`}
                    disabled={ended || left <= 0}
                    onClick={() => put(plate.id)}
                  >
                    {plate.entry.weight}
                    <span className="block text-sm font-normal">
                      {index < 9 && `${index + 1} · `}
                      {left} left{plate.id === next?.id && " · next"}
                    </span>
                    {beyond && <span className="block text-sm text-iron">{beyond}</span>}
                  </button>
                  <button
                    type="button"
                    className="press press-plain min-h-[64px] px-0"
                    aria-label={`Take off ${plate.entry.weight}`}
                    disabled={ended || hung(plate.id) === 0}
                    onClick={() => takeOff(plate.id)}
                  >
                    −
                  </button>
                </div>
              );
            })}
          </fieldset>
        </div>
        <PlateStack
          plates={hanging.map((id) => {
            const plate = plates.find((one) => one.id === id);
            return { name: plate?.entry.weight ?? "?", share: (plate?.weight_n ?? 0) / heaviest };
          })}
          hanger={rig.tare ? `hanger ${rig.tare}` : "hanger, not weighed"}
        />
      </div>
      {!ended && (
        <div className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="press press-main press-on grow" onClick={() => finish("broke")}>
            It broke
            <span className="block text-sm font-normal">B</span>
          </button>
          <button
            type="button"
            className="press min-h-[64px] grow"
            disabled={stacks.length === 0}
            onClick={() => finish("held")}
          >
            No more weights: it held
            <span className="block text-sm font-normal">N</span>
          </button>
          <button
            type="button"
            className="press press-plain min-h-[64px] px-2"
            disabled={stacks.length === 0}
            onClick={onAgain}
          >
            Unload, load again
          </button>
        </div>
      )}
      {ended && (
        <p className="mt-2">
          {draft.judgement.outcome === "broke" ? "It broke under this." : "It held all of this."}{" "}
          <button type="button" className="link" onClick={() => goOn()}>
            Not yet: go on
          </button>
        </p>
      )}
    </section>
  );
}
