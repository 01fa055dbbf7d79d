// The answer to the trial's question, large enough to be read from where one stands; then the slices.
import type { Schemas } from "../api/client";
import { Choice } from "../ui/Choice";
import { Pick } from "../ui/Pick";

const TOGETHER = "all";
const MOST_TABS = 7;

/** How large a headline can be for its length. */
const sizeOf = (letters: number) => (letters < 70 ? "text-4xl" : letters < 150 ? "text-3xl" : "text-2xl");

export function Answer({ said, also }: { said: string[]; also: string[] }) {
  const size = sizeOf(said.join(" ").length);
  return (
    <section aria-label="The answer">
      <h2 className={`${size} leading-tight text-balance`}>
        {said.map((words) => (
          <span key={words} className={said.length > 1 ? "block" : ""}>
            {words}
          </span>
        ))}
      </h2>
      {also.map((words) => (
        <p key={words} className="mt-2 max-w-[44rem] text-lg">
          {words}
        </p>
      ))}
    </section>
  );
}

interface TabsProps {
  slices: Schemas["SlicesView"];
  value: string;
  onChange: (slice: string) => void;
}

/** One slice at a time: the values of one thing, or all pieces together. */
export function SliceTabs({ slices, value, onChange }: TabsProps) {
  const name = slices.slices[0]?.name ?? "";
  const options = [
    ...slices.slices.map((one) => [one.words, one.value] as const),
    [TOGETHER, "all together"] as const,
  ];
  return (
    <div className="mt-4 flex flex-wrap items-end gap-3 border-t rule pt-3">
      {options.length > MOST_TABS + 1 ? (
        <Pick
          label={capital(name)}
          hideLabel={slices.names.length > 1}
          value={value || TOGETHER}
          options={options}
          onChange={onChange}
        />
      ) : (
        <Choice
          label={capital(name)}
          hideLabel={slices.names.length > 1}
          value={value || TOGETHER}
          options={options}
          onChange={onChange}
        />
      )}
      {slices.names.length > 1 && (
        <div className="max-w-52">
          <Pick
            label="One at a time by"
            hideLabel
            value={name}
            options={slices.names.map((one) => [one, `by ${one}`] as const)}
            onChange={(chosen) => onChange(`${chosen}:`)}
          />
        </div>
      )}
    </div>
  );
}

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);
