import { requireViewer } from "#app/request.ts";
import { ScheduleView } from "#app/views/lists/schedule.tsx";
import { listSchedule } from "#server/release/queries.ts";
import type { Route } from "./+types/schedule.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { rows: await listSchedule(context.db, viewer) };
}

export const meta: Route.MetaFunction = () => [{ title: "Schedule · Elenco" }];

export default function Schedule(props: Route.ComponentProps) {
  return <ScheduleView {...props} />;
}
