import { Link, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ButtonLink } from "#app/ui/button.tsx";
import { useOwner } from "#app/views/frame/kept-here.ts";
import { Article, Teaser } from "#app/views/reader/article.tsx";
import InPlaceBar, { type Look, looksOf } from "#app/views/reader/in-place.tsx";
import { Compared } from "#app/views/text/changed.tsx";
import { compareContents, type FieldComparison } from "#core/text/compare.ts";
import type { Manuscript, Picture } from "#core/text/manuscript.ts";
import type { Route } from "../../routes/+types/piece-preview.ts";
import { Panel } from "./panel.tsx";
import { Margin } from "./remarks/margin.tsx";
import { RemarksContext, spansOf, useRemarks } from "./remarks/remarks.ts";
import { Selecting } from "./remarks/selecting.tsx";
import { useAllRemarks } from "./remarks/use-all.ts";
import { useRemarksOf } from "./remarks/use-remarks.ts";
import { Reading } from "./text.tsx";

type Data = Route.ComponentProps["loaderData"]["shown"]["holds"];

/** The widths readers read at, in pixels. */
const WIDTHS: Record<string, number> = { telephone: 360, tablet: 768, desk: 1000 };
const SHAPES = ["page", "list", "feed"] as const;

/**
 * A piece in place: as readers have it, as they would have it, or what differs marked in the page; at three
 * widths, in a list, in a feed. Remarks are made and decisions taken right here.
 */
export function PreviewView({ shown, answer }: { shown: Data; answer: FormAnswer | null }) {
  const { piece, slug, version, live, here } = shown;
  const page = useAllRemarks(shown.page);
  const [words] = useSearchParams();
  const at = words.get("at") && Object.hasOwn(WIDTHS, words.get("at") ?? "") ? String(words.get("at")) : "desk";
  const shape = SHAPES.find((one) => one === words.get("as")) ?? "page";
  const to = (more: Record<string, string>) => `?${new URLSearchParams({ ...Object.fromEntries(words), ...more })}`;
  const asked = looksOf(here).find(([one]) => one === words.get("look"))?.[0];
  const look: Look | null = words.has("version") ? null : (asked ?? "ours");
  const owner = useOwner();
  const remarks = useRemarksOf(page, owner, answer);
  const doing = words.get("do");
  const present = shape === "page" && version === here.present;
  return (
    <RemarksContext value={remarks.shared}>
      <div className="flex min-h-full flex-col">
        <InPlaceBar here={here} look={look} />
        <div className="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-2 border-b border-ink px-4 py-3 md:px-6">
          <div>
            <Link data-back to={`/pieces/${slug}`} className="text-13 text-rail hover:text-blue">
              Back to the piece
            </Link>{" "}
            <h2 className="ml-3 inline text-15!">
              Version {version} {look === "theirs" ? "as readers have it" : "as readers will see it"}
            </h2>
            {look === null && live !== null && live !== version && (
              <Link to={to({ version: String(live) })} className="ml-3 text-13 text-blue underline">
                what they see now
              </Link>
            )}
          </div>
          <nav aria-label="Preview" className="flex flex-wrap items-center gap-x-6 gap-y-1 text-13">
            <Choices name="Width" all={Object.keys(WIDTHS)} chosen={at} to={(one) => to({ at: one })} />
            <Choices name="Shape" all={SHAPES} chosen={shape} to={(one) => to({ as: one })} />
            {page.steps
              .filter(({ refusal }) => !refusal)
              .map(({ key, name }) => (
                <ButtonLink key={key} to={to({ do: `step-${key}` })} preventScrollReset>
                  {name}
                </ButtonLink>
              ))}
            {page.decision && (
              <ButtonLink look="go" to={to({ do: "decide" })} preventScrollReset>
                {page.decision.decided ? "Decide anew" : "Decide"}
              </ButtonLink>
            )}
          </nav>
        </div>
        <div className="grid flex-1 grid-cols-[minmax(0,1fr)] bg-platform lg:grid-cols-[minmax(0,1fr)_316px]">
          {/* biome-ignore lint/a11y/noStaticElementInteractions: by keyboard n and p walk the remarks */}
          {/* biome-ignore lint/a11y/useKeyWithClickEvents: the same */}
          <div className="min-w-0 overflow-x-auto p-4 md:p-6" onClick={remarks.onClick}>
            <div
              className="@container mx-auto max-w-full border border-rule bg-paper px-5 py-8 font-serif"
              style={{ width: WIDTHS[at] }}
            >
              <div className="mx-auto max-w-[72ch]">
                {shape === "page" && <InThePage look={look} present={present} data={shown} />}
                {shape === "list" && <Teaser piece={piece}>{piece.title}</Teaser>}
                {shape === "feed" && (
                  <dl className="space-y-2 font-sans text-13">
                    <Part name="title">{piece.title}</Part>
                    <Part name="summary">{piece.standfirst || "none: readers of the feed see the title alone"}</Part>
                    <Part name="picture">
                      {piece.picture ? (
                        <img src={piece.picture.src} alt={piece.picture.alt} className="w-40" />
                      ) : (
                        "none"
                      )}
                    </Part>
                    <Part name="author">{piece.author}</Part>
                    <Part name="category">{piece.section}</Part>
                  </dl>
                )}
              </div>
            </div>
            {present && look === "ours" && page.commentable && <Selecting content={shown.content} />}
          </div>
          <div className="space-y-6 border-rule bg-enamel px-4 py-4 lg:border-l">
            {doing && <Panel key={doing} doing={doing} page={page} saving={false} answer={answer} />}
            <Margin
              page={page}
              content={shown.content}
              viewer={owner}
              storageKey={remarks.storageKey}
              answer={answer}
            />
          </div>
        </div>
      </div>
    </RemarksContext>
  );
}

/** The page itself, with what is said of its words, or with what differs from what readers have. */
function InThePage({ look, present, data }: { look: Look | null; present: boolean; data: Data }) {
  const { piece, fields, content, out } = data;
  const { threads } = useRemarks();
  if (look === "differs" && out) {
    const compared = compareContents(fields, out, content);
    const title = compared.find(({ key }) => key === "title")?.change;
    return (
      <Article piece={piece} title={title && title.kind === "words" ? <Words change={title} /> : piece.title}>
        {compared
          .filter(({ key, change }) => key !== "title" && change.kind !== "same")
          .map(({ key, name, change }) => (
            <section key={key} aria-label={name} className="manuscript compared mt-6">
              <h2 className="font-sans! text-13!">{name}</h2>
              <Compared change={change} side="both" />
            </section>
          ))}
      </Article>
    );
  }
  if (!present || look !== "ours") return <Article piece={piece} />;
  return (
    <Article piece={piece}>
      {fields.map(({ key, type, name }) => {
        const value = content.fields[key];
        if (value === undefined || (type !== "manuscript" && type !== "image")) return null;
        return (
          <section key={key} aria-label={name} data-field={key} className="mt-6">
            <Reading value={value as Manuscript | Picture} spans={spansOf(threads, key)} />
          </section>
        );
      })}
    </Article>
  );
}

const Words = ({ change }: { change: FieldComparison["change"] }) => (
  <span className="compared [&_p]:inline">
    <Compared change={change} side="both" />
  </span>
);

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
