import { Link, useSearchParams } from "react-router";
import { Article, Teaser } from "#app/views/reader/article.tsx";
import type { Route } from "../../routes/+types/piece-preview.ts";

/** The widths readers read at, in pixels. */
const WIDTHS: Record<string, number> = { telephone: 360, tablet: 768, desk: 1000 };
const SHAPES = ["page", "list", "feed"] as const;

/** A piece as its readers will see it: at three widths, in a list, in a feed. */
export function PreviewView({ loaderData: { piece, slug, version, live } }: Route.ComponentProps) {
  const [words] = useSearchParams();
  const at = words.get("at") && Object.hasOwn(WIDTHS, words.get("at") ?? "") ? String(words.get("at")) : "desk";
  const shape = SHAPES.find((one) => one === words.get("as")) ?? "page";
  const to = (more: Record<string, string>) => `?${new URLSearchParams({ ...Object.fromEntries(words), ...more })}`;
  return (
    <div className="flex min-h-full flex-col">
      <div className="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-2 border-b border-ink px-4 py-3 md:px-6">
        <div>
          <Link data-back to={`/pieces/${slug}`} className="text-13 text-rail hover:text-blue">
            Back to the piece
          </Link>{" "}
          <h2 className="ml-3 inline text-15!">Version {version} as readers will see it</h2>
          {live !== null && live !== version && (
            <Link to={to({ version: String(live) })} className="ml-3 text-13 text-blue underline">
              what they see now
            </Link>
          )}
        </div>
        <nav aria-label="Preview" className="flex gap-6 text-13">
          <Choices name="Width" all={Object.keys(WIDTHS)} chosen={at} to={(one) => to({ at: one })} />
          <Choices name="Shape" all={SHAPES} chosen={shape} to={(one) => to({ as: one })} />
        </nav>
      </div>
      <div className="flex-1 overflow-x-auto bg-platform p-4 md:p-6">
        <div
          className="@container mx-auto max-w-full border border-rule bg-paper px-5 py-8 font-serif"
          style={{ width: WIDTHS[at] }}
        >
          <div className="mx-auto max-w-[72ch]">
            {shape === "page" && <Article piece={piece} />}
            {shape === "list" && <Teaser piece={piece}>{piece.title}</Teaser>}
            {shape === "feed" && (
              <dl className="space-y-2 font-sans text-13">
                <Part name="title">{piece.title}</Part>
                <Part name="summary">{piece.standfirst || "none: readers of the feed see the title alone"}</Part>
                <Part name="picture">
                  {piece.picture ? <img src={piece.picture.src} alt={piece.picture.alt} className="w-40" /> : "none"}
                </Part>
                <Part name="author">{piece.author}</Part>
                <Part name="category">{piece.section}</Part>
              </dl>
            )}
          </div>
        </div>
      </div>
    </div>
  );
}

function Choices({
  name,
  all,
  chosen,
  to,
}: {
  name: string;
  all: readonly string[];
  chosen: string;
  to(one: string): string;
}) {
  return (
    <span className="flex gap-2">
      <span className="text-rail">{name}</span>
      {all.map((one) => (
        <Link
          key={one}
          to={to(one)}
          replace
          aria-current={one === chosen || undefined}
          className={one === chosen ? "font-bold" : "text-blue underline"}
        >
          {one}
        </Link>
      ))}
    </span>
  );
}

const Part = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div>
    <dt className="text-rail">{name}</dt>
    <dd className="break-words text-15">{children}</dd>
  </div>
);
