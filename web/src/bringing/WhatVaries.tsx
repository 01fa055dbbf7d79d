// What each column says of the pieces, under the shop's own words: a quantity becomes a curve, a condition a slice.
import { Pick } from "../ui/Pick";
import type { Found, Said } from "./queries";

interface Props {
  found: Found;
  said: Said;
  onSay: (change: Partial<Said>) => void;
}

const ABOUT = "what varies";

export function WhatVaries({ found, said, onSay }: Props) {
  const choose = (heading: string, key: string) => {
    const others = said.answers.filter((one) => one.about !== ABOUT || one.subject !== heading);
    onSay({ answers: [...others, { about: ABOUT, subject: heading, choice: key }] });
  };
  return (
    <section className="mt-3 grid gap-2 border-t rule pt-2" aria-label="What its columns say">
      <h3 className="text-base">What its columns say of the pieces</h3>
      {found.varies.map((one) => (
        <div key={one.heading} className="border-l-4 rule pl-2">
          <Pick
            label={`“${one.heading}”, ${one.count === 1 ? "the same for all" : `${one.count} values`}`}
            value={one.key}
            options={one.kinds.map((kind) => [kind.key, kind.words] as const)}
            onChange={(key) => choose(one.heading, key)}
          />
          <p className="pencil text-sm">{one.kinds[0]?.values}</p>
        </div>
      ))}
    </section>
  );
}
