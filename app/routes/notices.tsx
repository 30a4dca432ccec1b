import { requireViewer } from "#app/request.ts";
import { NoticesView } from "#app/views/lists/notices.tsx";
import { markRead } from "#server/notices/commands.ts";
import { listNotices } from "#server/notices/queries.ts";
import type { Route } from "./+types/notices.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { notices: await listNotices(context.db, viewer) };
}

export async function action({ context, request }: Route.ActionArgs) {
  const viewer = await requireViewer(context, request);
  if (!viewer.seenBy) await markRead(context.db, viewer);
  return null;
}

export const meta: Route.MetaFunction = () => [{ title: "Notices · Elenco" }];

export default function Notices(props: Route.ComponentProps) {
  return <NoticesView {...props} />;
}
