// How a number is known: method, formula in words, inputs, and the page that derives it.
import type { Schemas } from "../api/client";

export function HowWeKnow({ how, of }: { how: Schemas["How"]; of: string }) {
  return (
    <details className="mt-1 text-sm">
      <summary className="link inline-flex min-h-6 items-center">
        How do we know<span className="sr-only">: {of}</span>
      </summary>
      <HowWords how={how} />
    </details>
  );
}

export function HowWords({ how }: { how: Schemas["How"] }) {
  return (
    <div className="mt-1 border-l-4 border-rule pl-3">
      <p>{how.method}</p>
      <p className="mt-1">
        <span className="pencil">In words:</span> {how.formula}
      </p>
      <p className="mt-1">
        <span className="pencil">From:</span> {how.inputs}
      </p>
      <a className="link" href={`/method#${how.section}`} target="_blank" rel="noreferrer">
        How it is derived
      </a>
    </div>
  );
}
