import { listHead } from "#app/reader-head.ts";
import { notFound } from "#app/request.ts";
import { ReadView } from "#app/views/reader/list.tsx";
import { monthNamed, readerList } from "#server/reader/lists.ts";
import type { Route } from "./+types/read-month.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const month = await monthNamed(context.db, params.month);
  const after = new URL(request.url).searchParams.get("after");
  const list = month && (await readerList(context.db, { from: month.from, until: month.until }, after));
  if (!list) throw notFound();
  return { ...list, heading: month.name, baseUrl: context.baseUrl };
}

export const meta: Route.MetaFunction = ({ loaderData, matches, params }) =>
  listHead(loaderData, matches, `/read/archive/${params.month}`);

export default function ReadMonth({ loaderData }: Route.ComponentProps) {
  return <ReadView page={loaderData} />;
}
