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
  /** The unit of a strength: a stress, or a moment for corners. */
  const strength = (kind: string) => (kind === "moment" ? moment : stress);
  return { length, force, stress, strength, area, show };
}
