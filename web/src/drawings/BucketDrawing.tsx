// The bucket under the piece: its level by how near the load is to what the rig carries.
import { INK } from "../ui/ink";

/** `share` of what the rig carries, 0 to 1 and beyond; null while nothing is typed. */
export function BucketDrawing({ share, label }: { share: number | null; label: string }) {
  const level = 150 - 84 * Math.min(share ?? 0, 1);
  const side = (y: number) => (14 * (y - 66)) / 90;
  return (
    <svg
      viewBox="0 0 180 168"
      className="w-full max-w-60"
      role="img"
      aria-label={share === null ? "Bucket on the piece" : `Bucket on the piece: ${label}`}
    >
      <path d="M20 16h140" stroke={INK.graphite} strokeWidth={10} />
      <path d="M90 21v20M56 66C56 34 124 34 124 66" fill="none" stroke={INK.graphite} strokeWidth={2} />
      {share !== null && share > 0 && (
        <path
          d={`M${46 + side(level)} ${level}H${134 - side(level)}L120 156H60Z`}
          fill="#c9dbe9"
          stroke={INK.layout}
          strokeWidth={1}
        />
      )}
      <path d="M46 66L60 156H120L134 66Z" fill="none" stroke={INK.graphite} strokeWidth={2} />
    </svg>
  );
}
