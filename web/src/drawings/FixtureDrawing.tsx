// How a piece sits in its fixture: where it is held, where it is pushed, which way up.
interface Props {
  fixture: string;
  joint: string;
  solid?: boolean;
  sizes?: Record<string, string>;
}

const Push = ({ x, y }: { x: number; y: number }) => (
  <path d={`M${x} ${y - 26}v20m-6-8l6 9 6-9`} fill="none" stroke="#1f4f8f" strokeWidth={2.4} />
);
const Support = ({ x, y }: { x: number; y: number }) => <path d={`M${x} ${y}l9 15h-18z`} fill="#16201d" />;
const Size = ({ x, y, text }: { x: number; y: number; text: string | undefined }) =>
  text ? (
    <text x={x} y={y} textAnchor="middle" className="fill-pencil text-[13px]">
      {text}
    </text>
  ) : null;

export function FixtureDrawing({ fixture, joint, solid = false, sizes = {} }: Props) {
  if (fixture === "block-shear") return <BlockShear solid={solid} sizes={sizes} />;
  const four = fixture === "bend-4";
  return (
    <svg
      viewBox="0 0 420 128"
      className="w-full max-w-[30rem]"
      role="img"
      aria-label={describe(fixture, joint, solid)}
    >
      <rect x={20} y={40} width={380} height={34} fill="#fff" stroke="#16201d" strokeWidth={1.6} />
      {[49, 57, 65].map((y) => (
        <path key={y} d={`M23 ${y}h374`} stroke="#16201d" strokeOpacity={0.28} />
      ))}
      {!solid && joint === "scarf" && <path d="M172 40L248 74" stroke="#dd9f05" strokeWidth={4} />}
      {!solid && joint !== "scarf" && <path d="M210 40v34" stroke="#dd9f05" strokeWidth={4} />}
      {four ? (
        <>
          <Push x={152} y={40} />
          <Push x={268} y={40} />
          <Size x={96} y={30} text={sizes.load_arm_mm} />
          <path d="M36 34h112" stroke="#54615e" strokeDasharray="2 3" />
        </>
      ) : (
        <Push x={210} y={40} />
      )}
      <Support x={36} y={74} />
      <Support x={384} y={74} />
      <path d="M36 100h348" stroke="#54615e" strokeDasharray="2 3" />
      <Size x={210} y={114} text={sizes.span_mm ? `span ${sizes.span_mm}` : undefined} />
      <text x={36} y={124} className="fill-graphite text-[19px]">
        {joint === "scarf" && !solid ? "label up, scarf tip away from you" : "label up"}
      </text>
    </svg>
  );
}

function BlockShear({ solid, sizes }: { solid: boolean; sizes: Record<string, string> }) {
  return (
    <svg
      viewBox="0 0 420 150"
      className="w-full max-w-[30rem]"
      role="img"
      aria-label={describe("block-shear", "", solid)}
    >
      <rect x={120} y={34} width={70} height={80} fill="#fff" stroke="#16201d" strokeWidth={1.6} />
      <rect x={190} y={56} width={70} height={80} fill="#fff" stroke="#16201d" strokeWidth={1.6} />
      {[134, 148, 162, 176].map((x) => (
        <path key={x} d={`M${x} 37v74M${x + 70} 59v74`} stroke="#16201d" strokeOpacity={0.28} />
      ))}
      {!solid && <path d="M190 56v58" stroke="#dd9f05" strokeWidth={4} />}
      <Push x={155} y={34} />
      <path d="M186 137h80v8h-80z" fill="#16201d" />
      <Size x={318} y={92} text={sizes.overlap_mm ? `overlap ${sizes.overlap_mm}` : undefined} />
      <text x={120} y={146} textAnchor="end" className="fill-pencil text-[13px]">
        label towards you
      </text>
    </svg>
  );
}

const describe = (fixture: string, joint: string, solid: boolean) =>
  `${solid ? "Solid piece" : `Piece with a ${joint || "lapped"} joint`} in the fixture ${fixture}`;
