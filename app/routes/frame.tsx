import { Outlet, type ShouldRevalidateFunctionArgs } from "react-router";
import { requireViewer } from "#app/request.ts";
import { FrameView } from "#app/views/frame/frame.tsx";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { open, PLACES } from "#app/views/frame/places.ts";
import { countTurn } from "#server/pieces/turn.ts";
import { filtersOf } from "#server/search/filters.ts";
import type { Route } from "./+types/frame.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const [{ unread, ...turn }, filters] = await Promise.all([
    countTurn(context.db, viewer),
    filtersOf(context.db, viewer),
  ]);
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
    filters: filters.map(({ id, name, query }) => ({ id, name, query })),
    seenBy: viewer.seenBy?.name ?? null,
    standIns: context.standIns,
    ledgerEnd: context.ledgerEnd(),
    calendar: viewer.calendar,
    clock: { now: viewer.now, zone: viewer.zone, publicationZone: viewer.calendar.timeZone },
  };
}

/** What stands around the pages is asked anew when something was done or happened, not with every page. */
export const shouldRevalidate = ({
  defaultShouldRevalidate,
  currentUrl,
  nextUrl,
  ...by
}: ShouldRevalidateFunctionArgs) =>
  defaultShouldRevalidate && ((by.formMethod ?? "GET") !== "GET" || currentUrl.href === nextUrl.href);

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

export default function Frame({ loaderData }: Route.ComponentProps) {
  useKept(clientLoader, loaderData);
  return (
    <FrameView frame={loaderData}>
      <Outlet />
    </FrameView>
  );
}
