import { FEEDS, listHead, pieceHead } from "./reader-head.ts";

type Head = ReturnType<typeof listHead>;
const BASE = "https://trails.example";
const matches = [undefined, { loaderData: {} }, { loaderData: { publication: "Fontelba Trails" } }];

/** What a head says of something, by the name machines know it by. */
const said = (head: Head, name: string) =>
  head.flatMap((one) => {
    if ("property" in one && one.property === name) return [one.content];
    if ("name" in one && one.name === name) return [one.content];
    return "rel" in one && one.rel === name ? [one.href] : [];
  });
const titleOf = (head: Head) => head.flatMap((one) => ("title" in one ? [one.title] : []));

test("a list says its own address, its title, and the page behind it", () => {
  const head = listHead({ heading: "Winter", baseUrl: BASE, next: "01a" }, matches, "/read/section/winter");
  expect(titleOf(head)).toEqual(["Winter · Fontelba Trails"]);
  expect(said(head, "canonical")).toEqual([`${BASE}/read/section/winter`]);
  expect(said(head, "next")).toEqual([`${BASE}/read/section/winter?after=01a`]);
  expect(said(head, "og:url")).toEqual([`${BASE}/read/section/winter`]);
  expect(said(head, "og:site_name")).toEqual(["Fontelba Trails"]);
  expect(said(head, "alternate")).toEqual(["/read/feed.atom", "/read/feed.json"]);
});

test("the last page leads to none behind it; one without a heading is the publication's", () => {
  const head = listHead({ baseUrl: BASE, next: null }, matches, "/read");
  expect(titleOf(head)).toEqual(["Fontelba Trails"]);
  expect(said(head, "next")).toEqual([]);
});

test("a page that could not be read has a title, and where what is new is found", () => {
  expect(listHead(undefined, [], "/read")).toEqual([{ title: "Read" }, ...FEEDS]);
});

const piece = {
  slug: "the-spring-is-dry",
  title: "The spring is dry",
  standfirst: "Carry water.",
  author: "Tobia Rensk",
  section: "Bulletin",
  firstLiveAt: Date.UTC(2026, 10, 24, 9),
  liveAt: Date.UTC(2026, 10, 25, 9),
  picture: { src: "/read/the-spring-is-dry/files/ab?width=960", alt: "" },
} as unknown as Parameters<typeof pieceHead>[0];

const article = (head: Head) => head.flatMap((one) => ("script:ld+json" in one ? [one["script:ld+json"]] : []))[0];

test("a piece says what it is, to people and to machines", () => {
  const head = pieceHead(piece, BASE, matches);
  expect(titleOf(head)).toEqual(["The spring is dry · Fontelba Trails"]);
  expect(said(head, "canonical")).toEqual([`${BASE}/read/the-spring-is-dry`]);
  expect(said(head, "description")).toEqual(["Carry water."]);
  expect(said(head, "og:type")).toEqual(["article"]);
  expect(said(head, "og:image")).toEqual([`${BASE}/read/the-spring-is-dry/files/ab?width=960`]);
  expect(article(head)).toMatchObject({
    "@type": "Article",
    headline: "The spring is dry",
    author: { name: "Tobia Rensk" },
    publisher: { name: "Fontelba Trails" },
    articleSection: "Bulletin",
    datePublished: "2026-11-24T09:00:00.000Z",
    dateModified: "2026-11-25T09:00:00.000Z",
  });
});

test("what a piece has not is left out, and not said to be empty", () => {
  const head = pieceHead({ ...piece, standfirst: "", picture: null, firstLiveAt: null }, BASE, matches);
  expect([said(head, "description"), said(head, "og:description"), said(head, "og:image")]).toEqual([[], [], []]);
  const told = article(head) as Record<string, unknown>;
  expect("description" in told || "image" in told).toBe(false);
  expect(told.datePublished).toBeUndefined();
});
