import { requireViewer } from "#app/request.ts";
import { open, PLACES, ROOMS } from "#app/views/frame/places.ts";
import { listPieces } from "#server/pieces/lists.ts";
import type { Route } from "./+types/find.ts";

const MOST = 8;

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = (new URL(request.url).searchParams.get("q") ?? "").trim().slice(0, 100);
  const rooms = [
    ...PLACES,
    ...ROOMS.slice(1),
    { to: "/why", name: "Why, why not", about: "Who may do what, and through what" },
    { to: "/me", name: "You", about: "Your days away, password and sessions" },
  ];
  const places = open(rooms, viewer, viewer.now).filter((one) => one.name.toLowerCase().includes(words.toLowerCase()));
  const pieces = words === "" ? [] : (await listPieces(context.db, viewer, { words, show: "all" })).rows.slice(0, MOST);
  return {
    asked: words,
    /** The pieces among them by id, for a field that refers to one. */
    pieces: pieces.map(({ id, title }) => ({ id, title })),
    found: [
      ...pieces.map((row) => ({
        to: `/pieces/${row.slug}`,
        name: row.title,
        about: `${row.state} · ${row.section} · ${row.author}`,
      })),
      ...places.map((place) => ({ to: place.to, name: place.name, about: place.about })),
    ],
  };
}
