// Every set: how many pieces, and combinations that are left out.
import { Field } from "../ui/Field";
import { Trouble } from "../ui/Trouble";
import { More, usePlanning } from "./planning";
import { editSet, leaveOut } from "./queries";

export function TreatmentTable() {
  const { id, plan, settled, act } = usePlanning();
  const made = plan.treatments.filter((set) => set.kind === "made");
  const out = made.filter((set) => set.left_out).length;
  if (plan.treatments.length === 0) return null;
  return (
    <More
      title={`The ${plan.treatments.length - out} sets one by one${out ? `, ${out} combinations left out` : ""}: leave some out, or plan more of some`}
    >
      <table className="plain">
        <thead>
          <tr>
            <th>set</th>
            <th className="!text-left">code</th>
            <th>pieces</th>
            <th>made</th>
          </tr>
        </thead>
        <tbody>
          {plan.treatments.map((set) => (
            <tr key={set.id} className={set.left_out ? "pencil" : ""}>
              <td className="!whitespace-normal">{set.left_out ? <s>{set.name}</s> : set.name}</td>
              <td className="mono !text-left">{set.code}</td>
              <td className="w-24">
                <Field
                  label={`Pieces of ${set.name}`}
                  hideLabel
                  bare
                  disabled={settled || set.left_out}
                  value={String(set.pieces)}
                  onSave={(was, now) =>
                    editSet(id, set.id, "pieces", was, now).then(() => act.run(async () => undefined))
                  }
                />
              </td>
              <td className="w-16">
                <input
                  type="checkbox"
                  className="size-6 accent-layout"
                  aria-label={`${set.name} is made`}
                  checked={!set.left_out}
                  disabled={settled || set.kind !== "made" || act.busy}
                  onChange={() => void act.run(() => leaveOut(id, [set.id], !set.left_out))}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Trouble problem={act.problem} />
    </More>
  );
}
