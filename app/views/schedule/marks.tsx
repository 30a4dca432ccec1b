import type { Mark } from "#server/schedule/mark.ts";

/** How a mark is drawn: a square has left or is held, a disc is planned, a ring wished for, a bar ends, a sheet is an edition. */
const SHAPES: Record<Mark["what"], string> = {
  left: "M-4.5-4.5H4.5V4.5H-4.5Z",
  held: "M-4.5-4.5H4.5V4.5H-4.5Z",
  planned: "M-4.5 0a4.5 4.5 0 1 0 9 0a4.5 4.5 0 1 0-9 0Z",
  proposed: "M-3.5 0a3.5 3.5 0 1 0 7 0a3.5 3.5 0 1 0-7 0Z",
  wished: "M-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0Z",
  ends: "M-1.2-6H1.2V6H-1.2Z",
  edition: "M-4.5-6H4.5V6H-4.5Z",
};

/** One thing that leaves, in the timetable. */
export function MarkShape({ mark }: { mark: Pick<Mark, "what" | "expected" | "holds" | "replaces" | "edition"> }) {
  const { what, expected, holds, replaces, edition } = mark;
  const red = what === "held" || holds.length > 0 || expected !== null;
  const hollow = what === "wished" || what === "held" || what === "edition";
  /** How much of an edition is ready, from its foot up. */
  const full = edition && edition.of > 0 ? (12 * edition.ready) / edition.of : 0;
  const colour = red ? "text-red" : what === "wished" ? "text-rail" : "text-ink";
  return (
    <svg viewBox="-8 -8 16 16" aria-hidden="true" className={`size-3.5 max-w-full ${colour}`}>
      <path
        d={SHAPES[edition ? "edition" : what]}
        fill={hollow ? "none" : "currentColor"}
        stroke="currentColor"
        strokeWidth={hollow ? 2.2 : 0}
      />
      {what === "edition" && full > 0 && <path d={`M-4.5 6V${6 - full}H4.5V6Z`} fill="currentColor" />}
      {what === "proposed" && <circle r={6.4} fill="none" stroke="currentColor" strokeDasharray="1.6 1.8" />}
      {replaces && what !== "left" && what !== "ends" && <path d="M-7 7H7" stroke="currentColor" strokeWidth={1.6} />}
    </svg>
  );
}

/** That editions stand in a lane. */
export const EditionShape = () => (
  <svg viewBox="-8 -8 16 16" aria-hidden="true" className="mr-1 inline size-3.5 text-rail">
    <path d={SHAPES.edition} fill="none" stroke="currentColor" strokeWidth={1.6} />
  </svg>
);

const HALF = { id: "", ready: 1, of: 2, coming: [] };

/** What the marks mean. */
export const Legend = () => (
  <p className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1 text-12 text-rail max-sm:hidden">
    {(
      [
        ["planned", "planned"],
        ["proposed", "to confirm"],
        ["wished", "wished for"],
        ["held", "held"],
        ["left", "left"],
        ["ends", "ends"],
        ["edition", "edition, filled as far as it is ready"],
      ] as const
    ).map(([what, name]) => (
      <span key={what} className="flex items-center gap-1">
        <MarkShape
          mark={{ what, expected: null, holds: [], replaces: false, edition: what === "edition" ? HALF : null }}
        />
        {name}
      </span>
    ))}
    <span>red: held, or expected too late · underlined: in place of what readers see</span>
  </p>
);
