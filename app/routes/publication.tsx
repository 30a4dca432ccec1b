import { Outlet } from "react-router";
import { notFound, requireViewer } from "#app/request.ts";
import { Rooms } from "#app/ui/tabs.tsx";
import { open, PUBLICATION_ROOMS } from "#app/views/frame/places.ts";
import type { Route } from "./+types/publication.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const rooms = open(PUBLICATION_ROOMS, viewer, viewer.now).map(({ to, name }) => ({
    to,
    name,
    end: to === "/publication",
  }));
  if (rooms.length === 0) throw notFound();
  return { rooms };
}

export default function Publication({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <Rooms label="Publication" rooms={loaderData.rooms} />
      <Outlet />
    </>
  );
}
