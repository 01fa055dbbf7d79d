// A problem where it happened: what was understood, what was expected, what to do.
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
      <span>{problem.detail}</span>
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
