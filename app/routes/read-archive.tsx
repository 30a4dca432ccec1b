import { listHead } from "#app/reader-head.ts";
import { ArchiveView } from "#app/views/reader/list.tsx";
import { archiveMonths } from "#server/reader/lists.ts";
import type { Route } from "./+types/read-archive.ts";

export async function loader({ context }: Route.LoaderArgs) {
  return { months: await archiveMonths(context.db), heading: "Everything, by month", baseUrl: context.baseUrl };
}

export const meta: Route.MetaFunction = ({ loaderData, matches }) => listHead(loaderData, matches, "/read/archive");

export default function ReadArchive({ loaderData }: Route.ComponentProps) {
  return <ArchiveView months={loaderData.months} />;
}
