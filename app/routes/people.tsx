import { Outlet } from "react-router";
import { notFound, requireViewer } from "#app/request.ts";
import { Rooms } from "#app/ui/tabs.tsx";
import { open, PEOPLE_ROOMS } from "#app/views/frame/places.ts";
import type { Route } from "./+types/people.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const rooms = open(PEOPLE_ROOMS, viewer, viewer.now).map(({ to, name }) => ({ to, name, end: to === "/people" }));
  if (rooms.length === 0) throw notFound();
  return { rooms };
}

export default function People({ loaderData }: Route.ComponentProps) {
  return (
    <>
      <Rooms label="People" rooms={loaderData.rooms} />
      <Outlet />
    </>
  );
}
