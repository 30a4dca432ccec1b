import { notFound } from "#app/request.ts";
import { When } from "#app/views/time/clock.tsx";
import { bodyHtml, standfirst } from "#server/reader/feeds.ts";
import { readReleased } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-piece.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const one = await readReleased(context.db, params.slug);
  if (!one) throw notFound();
  const facts = one.fields
    .filter((field) => field.type === "line" && field.key !== "standfirst")
    .flatMap((field) => {
      const value = one.content.fields[field.key];
      return typeof value === "string" && value ? [{ name: field.name, value }] : [];
    });
  return {
    title: one.content.title,
    standfirst: standfirst(one),
    html: bodyHtml(one),
    facts,
    author: one.author,
    section: one.section,
    liveAt: one.liveAt,
    firstLiveAt: one.firstLiveAt,
  };
}

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: loaderData?.title ?? "Read" }];

export default function ReadPiece({ loaderData: piece }: Route.ComponentProps) {
  return (
    <article>
      <p className="font-sans text-13 text-rail">
        {piece.section} · {piece.author} · <When at={piece.firstLiveAt} dateOnly />
        {piece.liveAt !== piece.firstLiveAt && (
          <>
            , brought up to date <When at={piece.liveAt} dateOnly />
          </>
        )}
      </p>
      <h1 className="mt-1 break-words font-serif text-[36px]/[42px]">{piece.title}</h1>
      {piece.standfirst && <p className="mt-4 text-[21px]/[31px] italic">{piece.standfirst}</p>}
      {piece.facts.length > 0 && (
        <dl className="mt-6 grid grid-cols-2 gap-x-8 gap-y-2 border-y border-ink py-3 font-sans text-13 sm:grid-cols-3">
          {piece.facts.map((fact) => (
            <div key={fact.name}>
              <dt className="text-rail">{fact.name}</dt>
              <dd className="break-words font-semibold">{fact.value}</dd>
            </div>
          ))}
        </dl>
      )}
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything */}
      <div className="manuscript mt-6" dangerouslySetInnerHTML={{ __html: piece.html }} />
    </article>
  );
}
