import { requireViewer } from "#app/request.ts";
import { likeIdea } from "#server/intake/ideas.ts";
import type { Route } from "./+types/intake-like.ts";

/** What is like an idea, while it is written. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = (new URL(request.url).searchParams.get("words") ?? "").slice(0, 200);
  return { asked: words, ...(await likeIdea(context.db, viewer, words, null)) };
}
