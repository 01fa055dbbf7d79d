// What a calibration leaves over at each known load: up as an open triangle, down as a filled one.
import type { Schemas } from "../api/client";
import { convert, digits } from "../ui/format";
import { INK } from "../ui/ink";
import { useUnits } from "./useUnits";

const WIDE = 420;
const HIGH = 110;

export function Residuals({ points }: { points: Schemas["PointView"][] }) {
  const { force } = useUnits();
  const most = Math.max(...points.map((one) => one.load_n), 1e-9);
  const worst = Math.max(...points.map((one) => Math.abs(one.residual_n)));
  const x = (load: number) => 100 + ((WIDE - 130) * load) / most;
  const y = (residual: number) => HIGH / 2 - 4 - (34 * residual) / (worst || 1);
  const said = (value: number) => `${digits(convert(value, force), 2)} ${force.symbol}`;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      className="w-full max-w-lg"
      role="img"
      aria-label={`Left over at ${points.length} known loads, ${said(worst)} at most`}
    >
      <path d={`M92 ${y(0)}H${WIDE - 16}`} stroke={INK.rule} />
      {(worst > 0 ? [1, -1] : [0]).map((way) => (
        <text key={way} x={86} y={y(way * worst) + 5} fontSize={12} textAnchor="end" fill={INK.pencil}>
          {way > 0 ? "+" : way < 0 ? "−" : ""}
          {said(worst)}
        </text>
      ))}
      <text x={WIDE - 16} y={HIGH - 4} fontSize={12} textAnchor="end" fill={INK.pencil}>
        known load up to {said(most)}
      </text>
      {points.map((one, at) => {
        const [px, py, way] = [x(one.load_n), y(one.residual_n), one.rising ? 1 : -1];
        return (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: a point is its place in the order of hanging
            key={at}
            d={`M${px} ${py - 6 * way}l5 ${10 * way}h-10z`}
            fill={one.rising ? INK.sheet : INK.graphite}
            stroke={INK.graphite}
            strokeWidth={1.4}
          >
            <title>{`${one.weight} showed ${one.shown}: ${said(one.residual_n)} left over`}</title>
          </path>
        );
      })}
    </svg>
  );
}
