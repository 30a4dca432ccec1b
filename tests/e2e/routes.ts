/** Who a route may be asked as: people of every role, one whose grants are over, one ended, and nobody signed in. */
export const VISITORS = [
  "Ilda Marenzi",
  "Sefa Okonro",
  "Tobia Rensk",
  "Wim Aldera",
  "Petra Holmqvist",
  "Lene Quist",
  "Gus Ferrante",
  "Kai Wendt",
  "expired",
  "ended",
  "nobody",
] as const;
export type Visitor = (typeof VISITORS)[number];

const SIGNED_IN = VISITORS.filter((one) => one !== "ended" && one !== "nobody");
const CHIEF: readonly Visitor[] = ["Ilda Marenzi"];
/** Who may pass work on, in all of the publication or in a section. */
const LEADS: readonly Visitor[] = ["Ilda Marenzi", "Sefa Okonro"];

interface Entry {
  /** An address of it; `SLUG` stands for a piece of Tobia's that waits for Wim, `GUEST` for the secret of a guest's link to it, `FILE` for a file of it. */
  address: string;
  /** Who gets the page; signed-in people besides get the 404 of what is not there, others the sign-in page. */
  may: readonly Visitor[];
  /** Whether it answers to who is not signed in as well. */
  open?: boolean;
}

/** Who may read the piece in question. */
const READERS: Visitor[] = [
  "Ilda Marenzi",
  "Tobia Rensk",
  "Wim Aldera",
  "Petra Holmqvist",
  "Lene Quist",
  "Gus Ferrante",
  "Kai Wendt",
];

/** Every route of the application, and who gets an answer from it. */
export const ROUTES: Record<string, Entry> = {
  "sign-in": { address: "/sign-in", may: VISITORS, open: true },
  "sign-in/code": { address: "/sign-in/code", may: SIGNED_IN },
  "sign-in/again": { address: "/sign-in/again", may: [], open: true },
  passkey: { address: "/passkey", may: [], open: true },
  "sign-out": { address: "/sign-out", may: SIGNED_IN },
  forgot: { address: "/forgot", may: VISITORS, open: true },
  "open/:secret": { address: "/open/guessed", may: VISITORS, open: true },
  "first/:secret": { address: "/first/guessed", may: [], open: true },
  "guest/:secret": { address: "/guest/GUEST", may: VISITORS, open: true },
  "guest/:secret/files/:id": { address: "/guest/GUEST/files/FILE", may: VISITORS, open: true },
  "ask/:form": { address: "/ask/something-for-the-bulletin", may: VISITORS, open: true },
  "ask/:form/earliest": { address: "/ask/something-for-the-bulletin/earliest?wished=3+Dec", may: VISITORS, open: true },
  asked: { address: "/asked", may: VISITORS, open: true },
  "asked/:secret": { address: "/asked/guessed", may: [], open: true },
  "read/:slug/say": { address: "/read/no-such-piece/say", may: [], open: true },
  "see-as": { address: "/see-as", may: SIGNED_IN },
  "": { address: "/", may: SIGNED_IN },
  turn: { address: "/turn", may: SIGNED_IN },
  pending: { address: "/pending", may: LEADS },
  load: { address: "/load", may: LEADS },
  "notices/how": { address: "/notices/how", may: SIGNED_IN },
  "calendar/:file": { address: "/calendar/nobodys.ics", may: [], open: true },
  pieces: { address: "/pieces", may: SIGNED_IN },
  "pieces/new": { address: "/pieces/new", may: SIGNED_IN },
  "pieces/deleted": { address: "/pieces/deleted", may: SIGNED_IN },
  together: { address: "/together", may: SIGNED_IN },
  "together/:id": { address: "/together/00000000-0000-7000-8000-000000000000", may: [] },
  "pieces/:slug": { address: "/pieces/SLUG", may: READERS },
  intake: { address: "/intake", may: SIGNED_IN },
  "intake/like": { address: "/intake/like?words=springs", may: SIGNED_IN },
  schedule: { address: "/schedule", may: SIGNED_IN },
  editions: { address: "/editions", may: SIGNED_IN },
  "editions/:channel/:number": { address: "/editions/bulletin/49", may: SIGNED_IN },
  "editions/:channel/:number/document": { address: "/editions/bulletin/49/document?as=md", may: SIGNED_IN },
  workflows: { address: "/workflows", may: CHIEF },
  "workflows/:key": { address: "/workflows/route-guide", may: CHIEF },
  people: { address: "/people", may: CHIEF },
  "people/": { address: "/people", may: CHIEF },
  "people/roles": { address: "/people/roles", may: CHIEF },
  "people/groups": { address: "/people/groups", may: CHIEF },
  "publication/sections": { address: "/publication/sections", may: CHIEF },
  "publication/kinds": { address: "/publication/kinds", may: CHIEF },
  "publication/record": { address: "/publication/record", may: CHIEF },
  "publication/wording": { address: "/publication/wording", may: CHIEF },
  "publication/wording/:event/:part": { address: "/publication/wording/comment.made/concerned", may: CHIEF },
  "publication/intake": { address: "/publication/intake", may: CHIEF },
  "publication/rules": { address: "/publication/rules", may: CHIEF },
  "publication/rules/file": { address: "/publication/rules/file", may: CHIEF },
  "publication/channels": { address: "/publication/channels", may: CHIEF },
  "publication/telling": { address: "/publication/telling", may: CHIEF },
  "people/who/:key": { address: "/people/who/noor", may: CHIEF },
  publication: { address: "/publication", may: CHIEF },
  "publication/": { address: "/publication", may: CHIEF },
  why: { address: "/why?person=noor&action=piece.read", may: CHIEF },
  me: { address: "/me", may: SIGNED_IN },
  notices: { address: "/notices", may: SIGNED_IN },
  "files/:id": { address: "/files/FILE", may: READERS },
  find: { address: "/find?q=path", may: SIGNED_IN },
  "people/roles/preview": { address: "/people/roles/preview?role=writer&held=piece.read", may: CHIEF },
  "publication/record/file": { address: "/publication/record/file?as=csv&action=piece.released", may: CHIEF },
  "pieces/:slug/preview": { address: "/pieces/SLUG/preview", may: READERS },
  "pieces/:slug/document": { address: "/pieces/SLUG/document?as=md", may: READERS },
  "pieces/:slug/versions": { address: "/pieces/SLUG/versions", may: READERS },
  "pieces/:slug/passage": { address: "/pieces/SLUG/passage", may: READERS },
  "pieces/:slug/signed": { address: "/pieces/SLUG/signed", may: [] },
  "pieces/:slug/passage/file": { address: "/pieces/SLUG/passage/file?as=csv", may: READERS },
  "pieces/:slug/remarks.jsonld": { address: "/pieces/SLUG/remarks.jsonld", may: READERS },
  "pieces/:slug/remarks": { address: "/pieces/SLUG/remarks", may: READERS },
  "pieces/:slug/look": { address: "/pieces/SLUG/look", may: [] },
  "pieces/:slug/files": { address: "/pieces/SLUG/files", may: [] },
  "pieces/:slug/text": { address: "/pieces/SLUG/text", may: READERS },
  "workflows/:key/save": { address: "/workflows/route-guide/save", may: [] },
  "workflows/:key/document": { address: "/workflows/route-guide/document", may: CHIEF },
  "read/": { address: "/read", may: VISITORS, open: true },
  "read/in/:section": { address: "/read/in/huts", may: VISITORS, open: true },
  "read/archive": { address: "/read/archive", may: VISITORS, open: true },
  "read/archive/:month": { address: "/read/archive/2026-11", may: VISITORS, open: true },
  "read/sitemap.xml": { address: "/read/sitemap.xml", may: VISITORS, open: true },
  "robots.txt": { address: "/robots.txt", may: VISITORS, open: true },
  "read/:slug": { address: "/read/no-such-piece", may: [], open: true },
  "read/:slug/files/:id": { address: "/read/SLUG/files/FILE", may: [], open: true },
  "read/feed.atom": { address: "/read/feed.atom", may: VISITORS, open: true },
  "read/feed.json": { address: "/read/feed.json", may: VISITORS, open: true },
  "standins/post": { address: "/standins/post", may: VISITORS, open: true },
  "standins/post.json": { address: "/standins/post.json", may: VISITORS, open: true },
  "standins/chat": { address: "/standins/chat", may: VISITORS, open: true },
  "standins/chat.json": { address: "/standins/chat.json", may: VISITORS, open: true },
  "standins/surface": { address: "/standins/surface", may: VISITORS, open: true },
  "standins/clock": { address: "/standins/clock", may: VISITORS, open: true },
  "*": { address: "/nothing/here", may: [], open: true },
};
