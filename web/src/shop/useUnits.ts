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
  const area = {
    symbol: length.symbol === "in" ? "in²" : "cm²",
    per_si: length.symbol === "in" ? 1 / 645.16 : 0.01,
    offset: 0,
  };
  const inches = length.symbol === "in";
  const moment = inches
    ? { symbol: "lbf·ft", per_si: 0.737562, offset: 0 }
    : { symbol: "N·m", per_si: 1, offset: 0 };
  /** The unit of a strength: a stress, or a moment for corners. */
  const strength = (kind: string) => (kind === "moment" ? moment : stress);
  return { length, force, stress, strength, area, show };
}
