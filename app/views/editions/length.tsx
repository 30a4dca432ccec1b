import type { EditionData } from "./data.ts";

type Contents = NonNullable<EditionData["contents"]>;

/** How long it is against how long it should be: a block for each piece, full where it is ready, red where it is late. */
export function LengthBar({ items, checks }: Pick<Contents, "items" | "checks">) {
  const { unit, all, target } = checks.length;
  const whole = Math.max(all, target ?? 0) * 1.08;
  if (whole === 0) return null;
  const share = (amount: number) => `${(100 * amount) / whole}%`;
  const unitName = unit === "words" ? "words" : "pieces";
  return (
    <div
      role="img"
      aria-label={target === null ? `${all} ${unitName}` : `${all} of ${target} ${unitName}`}
      className="relative mt-5 h-6 border-b border-ink"
    >
      <div className="absolute inset-x-0 bottom-0 flex h-2.5">
        {items.map((item) => {
          const late = checks.late.includes(item.pieceId);
          const look = checks.ready.includes(item.pieceId)
            ? "bg-ink"
            : late
              ? "border border-red"
              : "border border-ink bg-paper";
          return (
            <span
              key={item.pieceId}
              title={`${item.row.title}: ${item.words} words`}
              className={`mr-0.5 h-full min-w-px ${look}`}
              style={{ width: `calc(${share(unit === "words" ? item.words : 1)} - 2px)` }}
            />
          );
        })}
      </div>
      {target !== null && (
        <span
          className={`absolute bottom-0 h-5 whitespace-nowrap border-blue px-1.5 text-12 leading-3 text-blue ${target > whole * 0.8 ? "border-r-2" : "border-l-2"}`}
          style={target > whole * 0.8 ? { right: share(whole - target) } : { left: share(target) }}
        >
          {target}
          <span className="max-sm:hidden"> {unitName}</span>
        </span>
      )}
    </div>
  );
}
