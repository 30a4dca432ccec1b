import { useEffect } from "react";
import { Link, useNavigate } from "react-router";
import { isForPage } from "#app/ui/rows.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { InPlace } from "#server/reader/in-place.ts";

/** The three ways to look at a piece in place. */
export const LOOKS = [
  ["theirs", "as readers have it"],
  ["ours", "as they would have it"],
  ["differs", "what differs"],
] as const;
export type Look = (typeof LOOKS)[number][0];

/** Where each way is looked at. */
export const lookAt = (slug: string, look: Look) => `/pieces/${slug}/preview?look=${look}`;

/** The ways there are for a piece: what is not out cannot be looked at, and what is the same does not differ. */
export const looksOf = ({ out, present }: Pick<InPlace, "out" | "present">) =>
  LOOKS.filter(([look]) => look === "ours" || (out !== null && (look === "theirs" || out !== present)));

/** Above a piece in place, for the workshop alone: what is out, what is on its way, whose turn it is; `v` goes to the next way to look. */
export default function InPlaceBar({ here, look }: { here: InPlace; look: Look | null }) {
  const navigate = useNavigate();
  const { slug, out, outSince, present, state, turn, plan } = here;
  const looks = looksOf(here);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "v" || !isForPage(event)) return;
      const at = looks.findIndex(([one]) => one === (look ?? "theirs"));
      const next = looks[(at + 1) % looks.length];
      if (next) navigate(lookAt(slug, next[0]), { replace: look !== null });
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [looks, look, slug, navigate]);
  return (
    <section
      aria-label="In place"
      className="sticky top-0 z-10 flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b-2 border-ink bg-platform px-4 py-2 font-sans text-13 text-ink md:px-6"
    >
      <p className="mr-auto">
        {out === null ? (
          "Nothing is out"
        ) : (
          <>
            Out: version {out}
            {outSince !== null && (
              <>
                {" "}
                since <When at={outSince} />
              </>
            )}
          </>
        )}
        {(out !== present || turn) && (
          <>
            {" · "}on its way: version {present}, {state}
            {turn && ` (${turn})`}
          </>
        )}
        {plan && (
          <>
            {" · "}
            {plan.status === "held" ? "held since" : plan.status === "proposed" ? "proposed for" : "leaves"}{" "}
            <When at={plan.at} />
          </>
        )}
      </p>
      <nav aria-label="Ways to look" className="flex flex-wrap gap-x-4">
        {looks.map(([one, name]) => (
          <Link
            key={one}
            to={lookAt(slug, one)}
            replace={look !== null}
            title="v"
            aria-current={one === look || undefined}
            className={one === look ? "font-bold" : "text-blue underline underline-offset-3"}
          >
            {name}
          </Link>
        ))}
        <Link to={`/pieces/${slug}`} className="text-blue underline underline-offset-3">
          the piece
        </Link>
      </nav>
    </section>
  );
}
