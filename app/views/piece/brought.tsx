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

/** What it was begun from, what was begun from it, what came in and became of it, and what readers say: each leads there. */
export function Brought({ page: { brought, origins } }: { page: PiecePage }) {
  const { model, from, became } = origins;
  if (brought.length === 0 && model === null && from === null && became.length === 0) return null;
  const open = brought.some((one) => one.sort === "report" && one.standing !== "declined");
  return (
    <Fold summary="Where it comes from, and what became of it" className="mt-2" open={open}>
      <ul className="text-13">
        {model !== null && <li className="py-0.5">Begun from the model text “{model}”</li>}
        {from && (
          <li className="break-words py-0.5">
            Begun from <TextLink to={`/pieces/${from.slug}`}>{from.title}</TextLink>
          </li>
        )}
        {brought.map(({ id, sort, title, at }) => (
          <li key={id} className="break-words py-0.5">
            <TextLink to={`/intake?item=${id}`}>{title}</TextLink>{" "}
            <span className="text-rail">
              {SORT[sort]}, <When at={at} />
            </span>
          </li>
        ))}
        {became.map(({ slug, title, kind }) => (
          <li key={slug} className="break-words py-0.5">
            Became <TextLink to={`/pieces/${slug}`}>{title}</TextLink>{" "}
            <span className="text-rail">{kind.toLowerCase()}</span>
          </li>
        ))}
      </ul>
    </Fold>
  );
}
