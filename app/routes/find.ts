import { requireViewer } from "#app/request.ts";
import { PLACES } from "#app/views/frame/places.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import type { Route } from "./+types/find.ts";

const MOST = 8;

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = (new URL(request.url).searchParams.get("q") ?? "").trim().slice(0, 100);
  const places = PLACES.filter(
    (place) =>
      (!place.configure || mayConfigure(viewer, viewer.now)) && place.name.toLowerCase().includes(words.toLowerCase()),
  );
  const pieces = words === "" ? [] : (await listPieces(context.db, viewer, { words, show: "all" })).rows.slice(0, MOST);
  return {
    asked: words,
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
