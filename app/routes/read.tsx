import { listHead } from "#app/reader-head.ts";
import { notFound } from "#app/request.ts";
import { ReadView } from "#app/views/reader/list.tsx";
import { readerList } from "#server/reader/lists.ts";
import type { Route } from "./+types/read.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const after = new URL(request.url).searchParams.get("after");
  const list = await readerList(context.db, {}, after);
  if (!list) throw notFound();
  return { ...list, baseUrl: context.baseUrl };
}

export const meta: Route.MetaFunction = ({ loaderData, matches }) => listHead(loaderData, matches, "/read");

export default function Read({ loaderData }: Route.ComponentProps) {
  return <ReadView page={loaderData} />;
}
