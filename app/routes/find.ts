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
    found: [
      ...pieces.map((row) => ({
        key: row.id,
        to: `/pieces/${row.slug}`,
        name: row.title,
        about: `${row.state} · ${row.section} · ${row.author}`,
        /** The piece's own address, where it is one. */
        slug: row.slug,
      })),
      ...places.map(({ to, name, about }) => ({ key: to, to, name, about, slug: null })),
    ],
  };
}
