import { flowWanted } from "#app/flow-filter.ts";
import { requireViewer } from "#app/request.ts";
import { helpPage } from "#server/flow/help.ts";
import type { Route } from "./+types/flow-help.ts";

/** What is told is told until something else is asked: foreseeing it takes too long to be done at whatever happens. */
export const shouldRevalidate = () => false;

/** What would help on a line, for its page: it takes longer than the page may. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { help: await helpPage(context.db, viewer, flowWanted(new URL(request.url).searchParams)) };
}
