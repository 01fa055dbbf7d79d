// A joint as a small drawing: two parts with their grain, the glue line in amber.
import { INK } from "../ui/ink";

const WOOD = { fill: "#fff", stroke: INK.graphite, strokeWidth: 1.5 } as const;
const GLUE = { stroke: INK.amber, strokeWidth: 4, fill: "none" } as const;

/** A part along the page, with grain lines. */
const Along = ({ x, y, w, h }: Box) => (
  <g>
    <rect x={x} y={y} width={w} height={h} {...WOOD} />
    {[0.28, 0.5, 0.72].map((at) => (
      <path key={at} d={`M${x + 3} ${y + at * h}h${w - 6}`} stroke="#16201d3a" />
    ))}
  </g>
);
/** A part up the page. */
const Upright = ({ x, y, w, h }: Box) => (
  <g>
    <rect x={x} y={y} width={w} height={h} {...WOOD} />
    {[0.28, 0.5, 0.72].map((at) => (
      <path key={at} d={`M${x + at * w} ${y + 3}v${h - 6}`} stroke="#16201d3a" />
    ))}
  </g>
);
/** A part seen on its end, with rings. */
const EndOn = ({ x, y, w, h }: Box) => (
  <g>
    <rect x={x} y={y} width={w} height={h} {...WOOD} />
    {[0.35, 0.65, 0.95].map((at) => (
      <path
        key={at}
        d={`M${x + w * (0.5 - 0.45 * at)} ${y + h - 2}a${w * 0.45 * at} ${h * 0.8 * at} 0 0 1 ${w * 0.9 * at} 0`}
        stroke="#16201d3a"
        fill="none"
      />
    ))}
  </g>
);
interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

const SHAPES: Record<string, React.ReactNode> = {
  "lapped-block": (
    <>
      <Along x={60} y={22} w={110} h={26} />
      <Along x={90} y={50} w={110} h={26} />
      <path d="M90 49h80" {...GLUE} />
    </>
  ),
  edge: (
    <>
      <Along x={50} y={16} w={160} h={32} />
      <Along x={50} y={50} w={160} h={32} />
      <path d="M50 49h160" {...GLUE} />
    </>
  ),
  face: (
    <>
      <Along x={50} y={32} w={160} h={16} />
      <Along x={50} y={50} w={160} h={16} />
      <path d="M50 49h160" {...GLUE} />
    </>
  ),
  butt: (
    <>
      <Along x={40} y={36} w={88} h={28} />
      <Along x={132} y={36} w={88} h={28} />
      <path d="M130 36v28" {...GLUE} />
    </>
  ),
  "half-lap": (
    <>
      <path d="M30 36h130v14h-50v14H30z" {...WOOD} />
      <path d="M230 64H112V52h50V36h68z" {...WOOD} />
      <path d="M34 44h120M34 58h72M168 44h58M118 58h108" stroke="#16201d3a" />
      <path d="M111 51h50" {...GLUE} />
    </>
  ),
  crossed: (
    <>
      <Along x={40} y={38} w={180} h={26} />
      <Upright x={117} y={4} w={26} h={92} />
      <path d="M117 38h26v26h-26z" {...GLUE} />
    </>
  ),
  scarf: (
    <>
      <path d="M30 36h140L90 64H30z" {...WOOD} />
      <path d="M230 64H90l80-28h60z" {...WOOD} />
      <path d="M34 44h110M34 56h72M154 44h72M118 56h108" stroke="#16201d3a" />
      <path d="M170 36L90 64" {...GLUE} />
    </>
  ),
  "v-joint": (
    <>
      <path d="M30 34h70l60 17-60 17H30z" {...WOOD} />
      <path d="M230 34h-130l60 17-60 17h130z" {...WOOD} />
      <path d="M34 44h80M34 58h80M170 44h56M170 58h56" stroke="#16201d3a" />
      <path d="M100 34l60 17-60 17" {...GLUE} />
    </>
  ),
  finger: (
    <>
      <path d="M30 26h90v12h26v12h-26v12h26v12H30z" {...WOOD} />
      <path d="M230 26H120v12h26v12h-26v12h26v12h84z" {...WOOD} />
      <path
        d="M34 32h82M34 44h82M34 56h82M34 68h82M150 32h76M150 44h76M150 56h76M150 68h76"
        stroke="#16201d3a"
      />
      <path d="M120 26v12h26v12h-26v12h26v12" {...GLUE} strokeWidth={3} />
    </>
  ),
  miter: (
    <>
      <path d="M70 4h30v58l120 0v30H70z" {...WOOD} />
      <path d="M78 8v70M86 8v62M94 8v54M106 70h110M98 78h118M90 86h126" stroke="#16201d3a" />
      <path d="M70 92l30-30" {...GLUE} />
    </>
  ),
  rabbet: (
    <>
      <Along x={84} y={62} w={136} h={30} />
      <path d="M64 4h34v58H84v30H64z" {...WOOD} />
      <path d="M72 8v80M80 8v80M90 8v50" stroke="#16201d3a" />
      <path d="M84 92V62h14" {...GLUE} />
    </>
  ),
  "mortise-tenon": (
    <>
      <Upright x={60} y={4} w={40} h={92} />
      <Along x={100} y={32} w={130} h={36} />
      <path d="M72 41h28v18H72z" {...WOOD} />
      <path d="M72 41h28M72 59h28" {...GLUE} />
    </>
  ),
  "mortise-tenon-edges": (
    <>
      <Upright x={60} y={4} w={40} h={92} />
      <Along x={100} y={32} w={130} h={36} />
      <path d="M72 41h28v18H72z" {...WOOD} />
      <path d="M100 41H72v18h28" {...GLUE} />
    </>
  ),
  "loose-tenon": (
    <>
      <Upright x={60} y={4} w={40} h={92} />
      <Along x={102} y={32} w={128} h={36} />
      <path d="M78 42h48v16H78z" {...WOOD} />
      <path d="M78 42h48M78 58h48" {...GLUE} />
    </>
  ),
  dowels: (
    <>
      <Upright x={60} y={4} w={40} h={92} />
      <Along x={102} y={28} w={128} h={44} />
      <path d="M80 38h44v7H80zM80 55h44v7H80z" {...WOOD} />
      <path d="M80 38h44M80 45h44M80 55h44M80 62h44" {...GLUE} strokeWidth={2.4} />
    </>
  ),
  spline: (
    <>
      <EndOn x={60} y={24} w={68} h={52} />
      <EndOn x={132} y={24} w={68} h={52} />
      <path d="M108 45h44v10h-44z" {...WOOD} />
      <path d="M108 45h44M108 55h44" {...GLUE} strokeWidth={3} />
    </>
  ),
};

export function JointDrawing({ joint }: { joint: string }) {
  return (
    <svg
      viewBox="20 0 220 100"
      className="w-full max-w-64"
      role="img"
      aria-label={`Drawing of the joint: ${joint}`}
    >
      {SHAPES[joint]}
    </svg>
  );
}
