// What comes of a table: pieces, sets, what is missing, what its own averages get wrong; and bringing it in.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useAct } from "../app/changes";
import { useShop } from "../shop/queries";
import { asOptions, Pick } from "../ui/Pick";
import { isFaulty, Trouble } from "../ui/Trouble";
import { type Found, type Said, takeTable } from "./queries";

interface Props {
  found: Found;
  said: Said;
  onTaken: (trialId: number) => void;
}

const MOST_SETS = 12;
/** What a stress needs, where the columns do not give it. */
const SIZES: Record<string, [string, string][]> = {
  "block-shear": [
    ["width_mm", "Width of the glued face"],
    ["overlap_mm", "Overlap"],
  ],
  "lap-tension": [
    ["width_mm", "Width of the glued face"],
    ["overlap_mm", "Overlap"],
  ],
  "butt-tension": [
    ["width_mm", "Width"],
    ["depth_mm", "Depth"],
  ],
  "bend-3": [
    ["span_mm", "Span"],
    ["width_mm", "Width"],
    ["depth_mm", "Depth"],
  ],
};

const GRAINS: [string, string][] = [
  ["face face", "face to face grain"],
  ["edge edge", "edge to edge grain"],
  ["face edge", "face to edge grain"],
  ["end end", "end to end grain"],
  ["end face", "end to face grain"],
  ["end edge", "end to edge grain"],
];

export function ComesOf({ found, said, onTaken }: Props) {
  const act = useAct();
  const shop = useShop().data;
  const [question, setQuestion] = useState("");
  const [answer, setAnswer] = useState<Schemas["AnswerKind"] | "">("");
  const [day, setDay] = useState("");
  const [glued, setGlued] = useState("");
  const [fixture, setFixture] = useState<Schemas["Fixture"] | "">("");
  const [joint, setJoint] = useState<Schemas["Joint"] | "">("");
  const [grain, setGrain] = useState(GRAINS[0]?.[0] ?? "");
  const [sizes, setSizes] = useState<Record<string, string>>({});
  const [species, setSpecies] = useState("");
  const [condition, setCondition] = useState("");
  const [open, setOpen] = useState(false);
  const chosen = fixture || found.fixture;
  const needed = (SIZES[chosen] ?? []).filter(([name]) => !found.sizes.includes(name.replace("_mm", "")));
  const [grainA, grainB] = grain.split(" ") as [Schemas["Grain"], Schemas["Grain"]];
  const says = (kind: Schemas["Factor"]) => found.varies.some((one) => one.kind === kind);
  const take = async () => {
    let id = 0;
    const done = await act.run(async () => {
      const made = await takeTable(found.sha256, {
        said,
        question,
        answer: answer || null,
        broken_on: day,
        glued_on: glued,
        fixture: fixture || null,
        sizes: Object.entries(sizes).map(([name, typed]) => ({ name, typed })),
        species,
        joint: joint || null,
        grain_a: grainA,
        grain_b: grainB,
        condition: says("condition") ? "" : condition,
      });
      id = made.id;
    });
    if (done) onTaken(id);
  };
  const loadsAlone = found.fixture === "load" || found.fixture === "stress";
  return (
    <aside className="border-l rule px-4 py-3" aria-label="So what">
      <h2 className="text-base">So what</h2>
      <p className="text-2xl">
        {found.pieces} pieces in {found.sets.length} {found.sets.length === 1 ? "set" : "sets"}
      </p>
      <p className="pencil">
        {found.quantity || "nothing yet"}
        {found.units.length > 0 && `, in ${found.units.join(", ")}`}
        {found.first_date &&
          `, broken ${found.first_date}${found.last_date === found.first_date ? "" : ` to ${found.last_date}`}`}
      </p>
      <p className="mt-2">
        {found.agrees + found.slips.length === 0
          ? "It computes nothing of its own"
          : `${found.agrees} of its own numbers agree with the pieces`}
        {found.slips.length > 0 ? (
          <>
            ,{" "}
            <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
              {found.slips.length} {found.slips.length === 1 ? "does" : "do"} not
            </button>
          </>
        ) : (
          ""
        )}
        .
      </p>
      {(open ? found.slips : found.slips.slice(0, 1)).map((words) => (
        <p key={words} className="mt-1 border-l-4 border-iron pl-2 text-sm">
          {words}
        </p>
      ))}
      <form
        className="mt-4 grid gap-2 border-t rule pt-3 [&_input]:scroll-mb-28 [&_select]:scroll-mb-28"
        onSubmit={(event) => {
          event.preventDefault();
          void take();
        }}
      >
        <label>
          <span className="label">What was asked with these pieces?</span>
          <input
            className="entry"
            value={question}
            placeholder="Which glue holds best after a season?"
            aria-invalid={isFaulty(act.problem, "question")}
            onChange={(event) => setQuestion(event.target.value)}
          />
        </label>
        <Pick
          label="The answer wanted"
          value={answer || found.answer}
          options={asOptions(found.answers)}
          onChange={setAnswer}
        />
        {found.undated > 0 && (
          <Day
            words="broken"
            without={found.undated}
            pieces={found.pieces}
            value={day}
            faulty={isFaulty(act.problem, "broken_on")}
            onChange={setDay}
          />
        )}
        {found.unglued > 0 && (
          <Day
            words="glued"
            without={found.unglued}
            pieces={found.pieces}
            value={glued}
            faulty={isFaulty(act.problem, "glued_on")}
            onChange={setGlued}
          />
        )}
        {!says("species") && (
          <label>
            <span className="label">The wood, if it is one</span>
            <input
              className="entry"
              value={species}
              placeholder="ash"
              onChange={(event) => setSpecies(event.target.value)}
            />
          </label>
        )}
        {!says("condition") && (
          <label>
            <span className="label">What they went through. Empty: not known</span>
            <input
              className="entry"
              value={condition}
              placeholder="kept dry in the shop"
              onChange={(event) => setCondition(event.target.value)}
            />
          </label>
        )}
        {loadsAlone && found.fixture === "load" && (
          <Pick
            label="How they were loaded"
            value={chosen}
            options={[
              ["load", "not said: compare the loads"],
              ...(shop?.fixtures ?? [])
                .filter((one) => one.key in SIZES)
                .map((one) => [one.key as Schemas["Fixture"], one.words] as const),
            ]}
            onChange={setFixture}
          />
        )}
        {!says("joint") && (
          <Pick
            label="The joint, if it is one"
            value={joint}
            options={[["", "not said"], ...(shop?.joints ?? []).map((one) => [one.key, one.words] as const)]}
            onChange={setJoint}
          />
        )}
        {joint && <Pick label="What meets in it" value={grain} options={GRAINS} onChange={setGrain} />}
        {needed.map(([name, words]) => (
          <label key={name}>
            <span className="label">{words}, the same for all</span>
            <input
              className="entry mono"
              value={sizes[name] ?? ""}
              placeholder="19 mm"
              aria-invalid={isFaulty(act.problem, name)}
              onChange={(event) => setSizes({ ...sizes, [name]: event.target.value })}
            />
          </label>
        ))}
        {/* in sight however long the form is, with what is wrong with it; no field that has the focus is under it */}
        <div className="sticky bottom-0 grid gap-2 bg-plaster py-2">
          <Trouble problem={act.problem} />
          <button
            type="submit"
            className="press press-main press-on"
            disabled={act.busy || found.pieces === 0}
          >
            Bring it in
            <span className="block text-sm font-normal">
              {found.questions.length > 0
                ? `${found.questions.length} ${found.questions.length === 1 ? "question is" : "questions are"} open`
                : "a trial, standing at Compare"}
            </span>
          </button>
        </div>
      </form>
      <h3 className="mt-4 text-base">Its sets</h3>
      <ul className="mt-2 text-sm">
        {found.sets.slice(0, MOST_SETS).map((one) => (
          <li key={one.name} className="flex justify-between border-b rule py-0.5">
            <span>{one.name}</span>
            <span className="tabular-nums">{one.pieces}</span>
          </li>
        ))}
      </ul>
      {found.sets.length > MOST_SETS && (
        <p className="pencil text-sm">And {found.sets.length - MOST_SETS} sets more.</p>
      )}
      <p className="pencil mt-4 text-sm">
        Shop tests compare joints with each other; they approve nothing. For anything that holds people up
        follow the makers’ instructions, local codes and licensed practice.
      </p>
    </aside>
  );
}

interface DayProps {
  words: string;
  without: number;
  pieces: number;
  value: string;
  faulty: boolean;
  onChange: (day: string) => void;
}

/** One day for all pieces whose row has none. */
function Day({ words, without, pieces, value, faulty, onChange }: DayProps) {
  return (
    <label>
      <span className="label">
        {without === pieces
          ? `When were they ${words}?`
          : `When were the ${without} without a date ${words}?`}{" "}
        Empty: not known
      </span>
      <input
        type="date"
        className="entry"
        value={value}
        aria-invalid={faulty}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
