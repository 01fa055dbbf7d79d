// The units of the shop, and numbers shown in them.
import { convert, digits, type Shown } from "../ui/format";
import { useShop } from "./queries";

const plain: Shown = { symbol: "", per_si: 1, offset: 0 };

export function useUnits() {
  const units = useShop().data?.units;
  const length = units?.length ?? { ...plain, symbol: "mm" };
  const force = units?.force ?? { ...plain, symbol: "N" };
  const stress = units?.stress ?? { ...plain, symbol: "MPa" };
  const show = (si: number | null | undefined, unit: Shown, significant = 3) =>
    si == null ? "–" : `${digits(convert(si, unit), significant)} ${unit.symbol}`;
  const area = units?.area ?? { ...plain, symbol: "mm²" };
  const moment = units?.moment ?? { ...plain, symbol: "N·m" };
  const stiffness = units?.stiffness ?? { ...plain, symbol: "N/mm" };
  const work = units?.work ?? { ...plain, symbol: "J" };
  const others: Record<string, Shown> = { moment, load: force, stiffness, work };
  /** The unit of what is compared: a stress, unless it is a moment, a load, a stiffness or a work. */
  const strength = (kind: string) => others[kind] ?? stress;
  return { length, force, stress, strength, stiffness, work, area, show };
}
