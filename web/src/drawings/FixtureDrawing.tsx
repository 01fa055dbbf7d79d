// How a piece sits in its fixture: where it is held, where it is pushed, which way up.
import { INK } from "../ui/ink";

interface Props {
  fixture: string;
  joint: string;
  solid?: boolean;
  sizes?: Record<string, string>;
}

interface ShapeProps {
  scarf: boolean;
  solid: boolean;
  sizes: Record<string, string>;
}

const WOOD = { fill: "#fff", stroke: INK.graphite, strokeWidth: 1.6 } as const;
const GLUE = { stroke: INK.amber, strokeWidth: 4, fill: "none" } as const;
const TURN = { down: 0, left: 90, up: 180, right: -90 } as const;

/** An arrow whose point is at x, y. */
const Push = ({ x, y, to = "down" }: { x: number; y: number; to?: keyof typeof TURN }) => (
  <path
    d="M0 -30v28m-6-9l6 9 6-9"
    transform={`translate(${x} ${y}) rotate(${TURN[to]})`}
    fill="none"
    stroke={INK.layout}
    strokeWidth={2.4}
  />
);
const Support = ({ x, y }: { x: number; y: number }) => (
  <path d={`M${x} ${y}l9 15h-18z`} fill={INK.graphite} />
);
const Held = ({ d }: { d: string }) => <path d={d} fill={INK.graphite} />;
const Size = ({ x, y, text }: { x: number; y: number; text: string | undefined }) =>
  text ? (
    <text x={x} y={y} textAnchor="middle" className="fill-pencil text-[13px]">
      {text}
    </text>
  ) : null;
const Up = ({ x, y, text = "label up" }: { x: number; y: number; text?: string }) => (
  <text x={x} y={y} className="fill-graphite text-[17px]">
    {text}
  </text>
);
const Grain = ({ d }: { d: string }) => <path d={d} stroke={INK.graphite} strokeOpacity={0.28} />;

function Bending({ scarf, solid, sizes, four }: ShapeProps & { four: boolean }) {
  return (
    <>
      <rect x={20} y={40} width={380} height={34} {...WOOD} />
      <Grain d="M23 49h374M23 57h374M23 65h374" />
      {!solid && <path d={scarf ? "M172 40L248 74" : "M210 40v34"} {...GLUE} />}
      {four ? (
        <>
          <Push x={152} y={38} />
          <Push x={268} y={38} />
          <Size x={96} y={30} text={sizes.load_arm_mm} />
          <path d="M36 34h112" stroke={INK.pencil} strokeDasharray="2 3" />
        </>
      ) : (
        <Push x={210} y={38} />
      )}
      <Support x={36} y={74} />
      <Support x={384} y={74} />
      <path d="M36 100h348" stroke={INK.pencil} strokeDasharray="2 3" />
      <Size x={210} y={114} text={sizes.span_mm ? `span ${sizes.span_mm}` : undefined} />
      <Up x={36} y={126} text={scarf && !solid ? "label up, scarf tip away from you" : "label up"} />
    </>
  );
}

function BlockShear({ solid, sizes }: ShapeProps) {
  return (
    <>
      <rect x={120} y={28} width={70} height={72} {...WOOD} />
      <rect x={190} y={46} width={70} height={72} {...WOOD} />
      <Grain d="M134 31v66M148 31v66M162 31v66M176 31v66M204 49v66M218 49v66M232 49v66M246 49v66" />
      {!solid && <path d="M190 46v54" {...GLUE} />}
      <Push x={155} y={26} />
      <Held d="M186 119h80v8h-80z" />
      <Size x={322} y={84} text={sizes.overlap_mm ? `overlap ${sizes.overlap_mm}` : undefined} />
      <Up x={20} y={122} text="label to you" />
    </>
  );
}

function LapTension({ solid, sizes }: ShapeProps) {
  return (
    <>
      <rect x={60} y={42} width={190} height={20} {...WOOD} />
      <rect x={170} y={64} width={190} height={20} {...WOOD} />
      <Grain d="M64 52h182M174 74h182" />
      {!solid && <path d="M170 63h80" {...GLUE} />}
      <Push x={10} y={52} to="left" />
      <Push x={410} y={74} to="right" />
      <Held d="M44 36h22v6h-22zM44 62h22v6h-22zM354 58h22v6h-22zM354 84h22v6h-22z" />
      <Size x={210} y={34} text={sizes.overlap_mm ? `overlap ${sizes.overlap_mm}` : undefined} />
      <Up x={60} y={120} />
    </>
  );
}

function ButtTension({ solid }: ShapeProps) {
  return (
    <>
      <rect x={60} y={44} width={149} height={38} {...WOOD} />
      <rect x={211} y={44} width={149} height={38} {...WOOD} />
      <Grain d="M64 54h140M64 63h140M64 72h140M216 54h140M216 63h140M216 72h140" />
      {!solid && <path d="M210 44v38" {...GLUE} />}
      <Held d="M60 36h46v8h-46zM60 82h46v8h-46zM314 36h46v8h-46zM314 82h46v8h-46z" />
      <Push x={10} y={63} to="left" />
      <Push x={410} y={63} to="right" />
      <Up x={60} y={122} />
    </>
  );
}

function CrossLap({ solid }: ShapeProps) {
  return (
    <>
      <rect x={90} y={56} width={240} height={24} {...WOOD} />
      <Grain d="M94 64h232M94 72h232" />
      <rect x={172} y={82} width={76} height={24} {...WOOD} />
      <path d="M184 102a26 16 0 0 1 52 0M196 103a14 9 0 0 1 28 0" stroke="#16201d3a" fill="none" />
      {!solid && <path d="M172 81h76" {...GLUE} />}
      <Held d="M96 81h52v10h-52zM272 81h52v10h-52z" />
      <path d="M186 26v56M234 26v56" stroke={INK.pencil} strokeDasharray="3 3" />
      <Push x={186} y={54} />
      <Push x={234} y={54} />
      <Up x={20} y={126} text="label up; the lower part is pushed off" />
    </>
  );
}

function Cantilever({ scarf, solid, sizes }: ShapeProps) {
  return (
    <>
      <rect x={50} y={48} width={320} height={34} {...WOOD} />
      <Grain d="M54 57h312M54 65h312M54 73h312" />
      {!solid && <path d={scarf ? "M140 48L196 82" : "M166 48v34"} {...GLUE} />}
      <Held d="M40 38h126v10H40zM40 82h126v10H40z" />
      <Push x={350} y={46} />
      <path d="M166 100h184" stroke={INK.pencil} strokeDasharray="2 3" />
      <Size x={258} y={114} text={sizes.arm_mm ? `arm ${sizes.arm_mm}` : "arm"} />
      <Up x={40} y={124} />
    </>
  );
}

function Racking({ solid, sizes }: ShapeProps) {
  return (
    <>
      <rect x={110} y={86} width={240} height={30} {...WOOD} />
      <Grain d="M114 96h232M114 106h232" />
      <rect x={110} y={8} width={32} height={78} {...WOOD} />
      <Grain d="M120 12v70M131 12v70" />
      {!solid && <path d="M110 86h32" {...GLUE} />}
      <Held d="M236 116h114v10H236zM236 76h114v10H236z" />
      <Push x={106} y={20} to="right" />
      <path d="M164 20v66" stroke={INK.pencil} strokeDasharray="2 3" />
      <Size x={212} y={56} text={sizes.arm_mm ? `arm ${sizes.arm_mm}` : "arm"} />
      <Up x={14} y={126} text="label to you" />
    </>
  );
}

function Withdrawal({ solid }: ShapeProps) {
  return (
    <>
      <rect x={130} y={64} width={160} height={46} {...WOOD} />
      <Grain d="M134 76h152M134 88h152M134 100h152" />
      <rect x={196} y={22} width={28} height={66} {...WOOD} />
      <Grain d="M205 26v58M215 26v58" />
      {!solid && <path d="M196 64v24M224 64v24" {...GLUE} />}
      <Held d="M132 54h48v10h-48zM240 54h48v10h-48z" />
      <Push x={210} y={2} to="up" />
      <path d="M210 6v16" stroke={INK.layout} strokeWidth={2.4} />
      <Up x={130} y={128} />
    </>
  );
}

function Pry({ solid }: ShapeProps) {
  return (
    <>
      <rect x={120} y={52} width={92} height={56} {...WOOD} />
      <rect x={214} y={34} width={92} height={56} {...WOOD} />
      <Grain d="M124 66h84M124 80h84M124 94h84M218 48h84M218 62h84M218 76h84" />
      {!solid && <path d="M213 52v38" {...GLUE} />}
      <Held d="M100 52h20v56h-20zM100 108h112v8H100z" />
      <Push x={262} y={32} />
      <Up x={20} y={30} text="in a vice, out of line with you" />
    </>
  );
}

const SHAPES: Record<string, (props: ShapeProps) => React.ReactNode> = {
  "block-shear": BlockShear,
  "lap-tension": LapTension,
  "butt-tension": ButtTension,
  "cross-lap": CrossLap,
  "bend-3": (props) => <Bending {...props} four={false} />,
  "bend-4": (props) => <Bending {...props} four />,
  cantilever: Cantilever,
  racking: Racking,
  withdrawal: Withdrawal,
  pry: Pry,
};

export function FixtureDrawing({ fixture, joint, solid = false, sizes = {} }: Props) {
  const Shape = SHAPES[fixture];
  return (
    <svg
      viewBox="-24 -4 468 136"
      className="w-full max-w-[30rem]"
      role="img"
      aria-label={`${solid ? "Solid piece" : `Piece with joint “${joint || "lapped"}”`} in the fixture ${fixture}`}
    >
      {Shape && <Shape scarf={joint === "scarf"} solid={solid} sizes={sizes} />}
    </svg>
  );
}
