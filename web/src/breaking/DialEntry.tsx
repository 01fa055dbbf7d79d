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

export function DialEntry({ readings, loadUnit, faulty, onChange }: Props) {
  const { length } = useUnits();
  if (readings === null)
    return (
      <button type="button" className="link" onClick={() => onChange([EMPTY])}>
        A dial was read at loads …
      </button>
    );
  const last = readings.at(-1);
  const lines = last && (last.load || last.moved) ? [...readings, EMPTY] : readings;
  const put = (at: number, change: Partial<typeof EMPTY>) =>
    onChange(lines.map((one, index) => (index === at ? { ...one, ...change } : one)));
  return (
    <section className="mt-2" aria-label="The dial">
      <table className="plain dense">
        <thead>
          <tr>
            <th>load on, {loadUnit}</th>
            <th>the dial stood at, {length.symbol}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((one, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
            <tr key={at}>
              {(["load", "moved"] as const).map((name) => (
                <td key={name}>
                  <input
                    className="entry mono w-36"
                    aria-label={`${name === "load" ? "load on" : "the dial stood at"}, reading ${at + 1}`}
                    value={one[name]}
                    autoComplete="off"
                    aria-invalid={faulty}
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
