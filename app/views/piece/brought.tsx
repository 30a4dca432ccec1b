import { TextLink } from "#app/ui/button.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { PiecePage } from "./page.ts";

const SORT: Record<PiecePage["brought"][number]["sort"], string> = {
  request: "a request",
  idea: "an idea",
  report: "a reader says",
  material: "material",
};

/** What came in and became of a piece, or is said of it: each leads to where it is kept. */
export function Brought({ page }: { page: PiecePage }) {
  if (page.brought.length === 0) return null;
  const open = page.brought.some((one) => one.sort === "report" && one.standing !== "declined");
  return (
    <Fold summary="Where it comes from, and what readers say" className="mt-2" open={open}>
      <ul className="text-13">
        {page.brought.map(({ id, sort, title, at }) => (
          <li key={id} className="break-words py-0.5">
            <TextLink to={`/intake?item=${id}`}>{title}</TextLink>{" "}
            <span className="text-rail">
              {SORT[sort]}, <When at={at} />
            </span>
          </li>
        ))}
      </ul>
    </Fold>
  );
}
