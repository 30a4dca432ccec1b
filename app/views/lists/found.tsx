import type { Hit } from "#server/search/queries.ts";

const WHERE: Record<Hit["source"], string> = { title: "", text: "", comment: "in a comment", file: "of a file" };

/** The sentence words were found in; a title shows itself. */
export function Found({ hit }: { hit: Hit }) {
  if (hit.source === "title" || hit.sentence.length === 0) return null;
  const where = [WHERE[hit.source], hit.source === "comment" && hit.by].filter(Boolean).join(", ");
  return (
    <p className="order-last col-span-full truncate pb-0.5 text-13 text-rail">
      {hit.sentence.map((one, i) =>
        one.found ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: the stretches of one sentence, in order
          <mark key={i} className="bg-wash font-semibold text-ink">
            {one.words}
          </mark>
        ) : (
          one.words
        ),
      )}
      {where && ` · ${where}`}
    </p>
  );
}
