// A dropped file that is no table: what it is, and where it goes.
import { Link, useNavigate } from "react-router";
import { useAct } from "../app/changes";
import { useToday } from "../over/queries";
import { layAirOver } from "../shop/queries";
import { Trouble } from "../ui/Trouble";
import { type FileView, takePackage } from "./queries";

interface Props {
  file: File;
  view: FileView;
  onTable: () => void;
}

const LICENCES: Record<string, string> = {
  "CC0-1.0": "may be used for anything",
  "CC-BY-4.0": "may be used if the source is named",
  "CC-BY-SA-4.0": "may be used if the source is named, and likewise what is made of it",
};

export function FileFound({ file, view, onTable }: Props) {
  const act = useAct();
  const navigate = useNavigate();
  const trials = useToday().data?.trials ?? [];
  const bringIn = () =>
    void act.run(async () => {
      const taken = await takePackage(file);
      navigate(`/trials/${taken.id}/compare`);
    });
  const layOver = () =>
    void act.run(async () => {
      await layAirOver(file);
      navigate("/");
    });
  const found = view.package;
  return (
    <section className="mt-5 border-l-4 border-layout bg-layout-pale px-4 py-3" aria-label="What the file is">
      <p className="mono break-words">{file.name}</p>
      <h2 className="text-xl">{view.words}</h2>
      {view.do && <p className="mt-1">{view.do}</p>}
      {found && (
        <>
          <p className="mt-2 text-lg">{found.question}</p>
          <p>
            {found.sets} sets, {found.pieces} pieces, {found.pulls} loadings
            {found.practice ? "; broken for practice" : ""}.
          </p>
          {found.verdict && <p className="mt-1">Its verdict where it left: “{found.verdict}”</p>}
          <p className="pencil mt-1">
            {found.licence
              ? `Licence ${found.licence}: ${LICENCES[found.licence] ?? "see its README"}.`
              : "What others may do with its data is not said in it."}
          </p>
          {found.touched.length > 0 && (
            <p className="mt-1 border-l-4 border-amber bg-amber-pale px-2">
              Not as it left its shop: {found.touched.join(", ")}. It fits together; the history will say so.
            </p>
          )}
          <button type="button" className="press press-on mt-3" disabled={act.busy} onClick={bringIn}>
            {act.busy ? "Checking and bringing in …" : "Bring it in"}
          </button>
        </>
      )}
      {view.kind === "air" && (
        <button type="button" className="press press-on mt-3" disabled={act.busy} onClick={layOver}>
          Lay it over the trials
        </button>
      )}
      {view.kind === "log" && trials.length > 0 && (
        <ul className="mt-2">
          {trials.map((one) => (
            <li key={one.id}>
              <Link className="link" to={`/trials/${one.id}/break`}>
                Break of “{one.question}”
              </Link>
            </li>
          ))}
        </ul>
      )}
      {(view.kind === "log" || view.kind === "air") && (
        <button type="button" className="link mt-3" onClick={onTable}>
          It is a table of breaks: read it as one
        </button>
      )}
      <Trouble problem={act.problem} />
    </section>
  );
}
