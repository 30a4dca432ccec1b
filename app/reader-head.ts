import type { MetaDescriptor } from "react-router";
import type { ReaderPiece } from "#server/reader/piece.ts";

type Matches = readonly ({ loaderData?: unknown } | undefined)[];

/** The publication a page of the reader site belongs to. */
const publicationOf = (matches: Matches) =>
  matches.map((one) => (one?.loaderData as { publication?: string } | undefined)?.publication).find(Boolean) ?? "Read";

const link = (rel: string, href: string): MetaDescriptor => ({ tagName: "link", rel, href });
const about = (property: string, content: string): MetaDescriptor => ({ property, content });

/** Where a machine that reads finds what is new. */
export const FEEDS: MetaDescriptor[] = [
  { tagName: "link", rel: "alternate", type: "application/atom+xml", href: "/read/feed.atom" },
  { tagName: "link", rel: "alternate", type: "application/feed+json", href: "/read/feed.json" },
];

/** What the head of a list says of it, to readers' machines too: its own address, its title, the page behind it. */
export function listHead(
  page: { heading?: string; baseUrl: string; next?: string | null } | undefined,
  matches: Matches,
  path: string,
): MetaDescriptor[] {
  const publication = publicationOf(matches);
  const title = page?.heading ? `${page.heading} · ${publication}` : publication;
  if (!page) return [{ title }, ...FEEDS];
  const address = page.baseUrl + path;
  return [
    { title },
    ...FEEDS,
    { name: "description", content: `What ${publication} published, the newest first.` },
    link("canonical", address),
    ...(page.next ? [link("next", `${address}?after=${page.next}`)] : []),
    about("og:type", "website"),
    about("og:title", title),
    about("og:url", address),
    about("og:site_name", publication),
  ];
}

/** The same of a piece, with what it is in the words of schema.org. */
export function pieceHead(piece: ReaderPiece & { slug: string }, baseUrl: string, matches: Matches): MetaDescriptor[] {
  const publication = publicationOf(matches);
  const address = `${baseUrl}/read/${piece.slug}`;
  const picture = piece.picture && new URL(piece.picture.src, baseUrl).href;
  const iso = (at: number | null) => (at === null ? undefined : new Date(at).toISOString());
  const described = piece.standfirst ? { description: piece.standfirst } : {};
  return [
    { title: `${piece.title} · ${publication}` },
    ...FEEDS,
    ...(piece.standfirst ? [{ name: "description", content: piece.standfirst }] : []),
    link("canonical", address),
    about("og:type", "article"),
    about("og:title", piece.title),
    about("og:url", address),
    about("og:site_name", publication),
    ...(piece.standfirst ? [about("og:description", piece.standfirst)] : []),
    ...(picture ? [about("og:image", picture)] : []),
    {
      "script:ld+json": {
        "@context": "https://schema.org",
        "@type": "Article",
        headline: piece.title,
        ...described,
        ...(picture && { image: picture }),
        author: { "@type": "Person", name: piece.author },
        publisher: { "@type": "Organization", name: publication },
        articleSection: piece.section,
        datePublished: iso(piece.firstLiveAt),
        dateModified: iso(piece.liveAt),
        mainEntityOfPage: address,
      },
    },
  ];
}
