import { listHead } from "#app/reader-head.ts";
import { notFound } from "#app/request.ts";
import { ReadView } from "#app/views/reader/list.tsx";
import { readerList, sectionNamed } from "#server/reader/lists.ts";
import type { Route } from "./+types/read-section.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const section = await sectionNamed(context.db, params.section);
  const after = new URL(request.url).searchParams.get("after");
  const list = section && (await readerList(context.db, { sectionIds: section.ids }, after));
  if (!list) throw notFound();
  return { ...list, heading: section.name, baseUrl: context.baseUrl };
}

export const meta: Route.MetaFunction = ({ loaderData, matches, params }) =>
  listHead(loaderData, matches, `/read/in/${params.section}`);

export default function ReadSection({ loaderData }: Route.ComponentProps) {
  return <ReadView page={loaderData} />;
}
