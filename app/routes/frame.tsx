import { Outlet } from "react-router";
import { requireViewer } from "#app/request.ts";
import { FrameView } from "#app/views/frame/frame.tsx";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { open, PLACES } from "#app/views/frame/places.ts";
import { countTurn } from "#server/pieces/lists.ts";
import type { Route } from "./+types/frame.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const { unread, ...turn } = await countTurn(context.db, viewer);
  return {
    publication: viewer.places.name,
    me: {
      id: viewer.seenBy?.id ?? viewer.id,
      name: viewer.name,
      roles: [...new Set(viewer.grants.map((grant) => grant.roleName))].join(", "),
    },
    turn,
    unread,
    places: open(PLACES, viewer, viewer.now).map(({ to, name }) => ({ to, name })),
    seenBy: viewer.seenBy?.name ?? null,
    standIns: context.standIns,
    calendar: viewer.calendar,
    clock: { now: viewer.now, zone: viewer.zone, publicationZone: viewer.calendar.timeZone },
  };
}

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

export default function Frame({ loaderData }: Route.ComponentProps) {
  useKept(clientLoader, loaderData);
  return (
    <FrameView frame={loaderData}>
      <Outlet />
    </FrameView>
  );
}
