import { requireViewer } from "#app/request.ts";
import { open, PEOPLE_ROOMS, PLACES, PUBLICATION_ROOMS } from "#app/views/frame/places.ts";
import { hasIntake } from "#server/intake/items.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { findWords } from "#server/search/queries.ts";
import type { Route } from "./+types/find.ts";

const MOST = 8;

/** Where a sentence stands, before it. */
const WHERE = { title: "", text: "", comment: "in a comment: ", file: "of a file: " };

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = (new URL(request.url).searchParams.get("q") ?? "").trim().slice(0, 100);
  const rooms = [
    ...PLACES.filter((place) => place.to !== "/publication"),
    ...PEOPLE_ROOMS.slice(1),
    ...PUBLICATION_ROOMS,
    { to: "/why", name: "Why, why not", about: "Who may do what, and through what" },
    { to: "/me", name: "You", about: "Your days away, password and sessions" },
  ];
  const places = open(rooms, viewer, viewer.now).filter((one) => one.name.toLowerCase().includes(words.toLowerCase()));
  const [listed, told] =
    words === ""
      ? [[], []]
      : await Promise.all([
          listPieces(context.db, viewer, { words, titles: true, show: "all" }).then(({ rows }) => rows.slice(0, MOST)),
          findWords(context.db, viewer, words, MOST),
        ]);
  // A piece whose title says it needs no sentence.
  const within = told.filter((one) => !listed.some((row) => row.id === one.id)).slice(0, MOST);
  return {
    asked: words,
    found: [
      ...listed.map((row) => ({
        key: row.id,
        to: `/pieces/${row.slug}`,
        name: row.title,
        about: `${row.state} · ${row.section} · ${row.author}`,
        /** The piece's own address, where it is one. */
        slug: row.slug,
      })),
      ...within.map(({ id, slug, title, hit }) => ({
        key: id,
        to: `/pieces/${slug}`,
        name: title,
        about: `${WHERE[hit.source]}${hit.sentence.map((one) => one.words).join("")}`,
        slug: null,
      })),
      ...places.map(({ to, name, about }) => ({ key: to, to, name, about, slug: null })),
      ...(words.length > 2 && hasIntake(viewer, viewer.now)
        ? [
            {
              key: "note",
              to: `/intake?new=${encodeURIComponent(words)}`,
              name: words,
              about: "Note it as an idea",
              slug: null,
            },
          ]
        : []),
    ],
  };
}
