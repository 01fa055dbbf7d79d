// How far the piece moved, where a person reads a dial at loads: one line a reading, a new line as the last is filled.
import type { Schemas } from "../api/client";
import { useUnits } from "../shop/useUnits";

interface Props {
  /** None while no dial is read. */
  readings: Schemas["DialReading"][] | null;
  loadUnit: string;
  faulty: boolean;
  onChange: (readings: Schemas["DialReading"][] | null) => void;
}

const EMPTY = { load: "", moved: "" };

const isFilled = (one: typeof EMPTY) => one.load.trim() !== "" || one.moved.trim() !== "";
const isHalf = (one: typeof EMPTY) => isFilled(one) && !(one.load.trim() && one.moved.trim());

export function DialEntry({ readings, loadUnit, faulty, onChange }: Props) {
  const { length } = useUnits();
  if (readings === null)
    return (
      <button type="button" className="link mt-2 min-h-[44px]" onClick={() => onChange([EMPTY])}>
        A dial was read at loads …
      </button>
    );
  const last = readings.at(-1);
  const lines = last && isFilled(last) ? [...readings, EMPTY] : readings;
  const hasHalf = lines.some(isHalf);
  const put = (at: number, change: Partial<typeof EMPTY>) =>
    onChange(lines.map((one, index) => (index === at ? { ...one, ...change } : one)));
  return (
    <section className="mt-2" aria-label="The dial">
      <table>
        <thead>
          <tr className="label text-left">
            <th className="font-normal">load on, {loadUnit}</th>
            <th className="font-normal">the dial stood at, {length.symbol}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((one, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
            <tr key={at}>
              {(["load", "moved"] as const).map((name) => (
                <td key={name} className="pr-2 pb-1">
                  <input
                    className="entry mono w-40"
                    aria-label={`${name === "load" ? "load on" : "the dial stood at"}, reading ${at + 1}`}
                    value={one[name]}
                    autoComplete="off"
                    aria-invalid={faulty && (hasHalf ? isHalf(one) : isFilled(one))}
                    onChange={(event) => put(at, { [name]: event.target.value })}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pencil text-sm">
        From 0 in even steps; three readings between a fifth and a half of the load at break make a stiffness.
        Let go and read once more at 0: that is what stayed bent.{" "}
        <button type="button" className="link" onClick={() => onChange(null)}>
          No dial
        </button>
      </p>
    </section>
  );
}
