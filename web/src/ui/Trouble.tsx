// A problem where it happened: what was understood, what was expected, what to do; several of a form each at its field.
import type { Schemas } from "../api/client";

interface Props {
  problem: Schemas["Problem"] | null;
  onChoose?: (text: string) => void;
  children?: React.ReactNode;
}

export function Trouble({ problem, onChoose, children }: Props) {
  if (!problem) return null;
  return (
    <div role="alert" className="border-l-4 border-iron bg-iron-pale px-3 py-2 text-[0.95rem]">
      {problem.faults.length > 1 ? (
        <ul>
          {problem.faults.map((fault) => (
            <li key={`${fault.field} ${fault.detail}`}>{fault.detail}</li>
          ))}
        </ul>
      ) : (
        <span>{problem.detail}</span>
      )}
      {onChoose && problem.choices && problem.choices.length > 0 && (
        <span className="mt-1 flex flex-wrap gap-2">
          {problem.choices.map((choice) => (
            <button key={choice} type="button" className="press" onClick={() => onChoose(choice)}>
              {choice}
            </button>
          ))}
        </span>
      )}
      {children}
    </div>
  );
}

const findFault = (problem: Schemas["Problem"] | null, field: string) =>
  problem?.faults?.find((fault) => fault.field === field);

/** Whether something is wrong with a field of a form. */
export const isFaulty = (problem: Schemas["Problem"] | null, field: string) =>
  problem?.field === field || findFault(problem, field) !== undefined;

/** What is wrong with one field of a form, under it, where several are; one alone is told by `Trouble`. */
export function FaultAt({
  id,
  problem,
  field,
}: {
  id: string;
  problem: Schemas["Problem"] | null;
  field: string;
}) {
  const fault = findFault(problem, field);
  if (!fault || (problem?.faults?.length ?? 0) < 2) return null;
  return (
    <p id={id} className="text-sm text-iron">
      {fault.detail}
    </p>
  );
}
