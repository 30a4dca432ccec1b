import { notFound, requirePermission } from "#app/request.ts";
import { readHeld } from "#core/access/permissions.ts";
import { previewRole } from "#server/people/roles.ts";
import type { Route } from "./+types/role-preview.ts";

/** What a role that allowed this would change; asked while one chooses. */
export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "access.edit");
  const words = new URL(request.url).searchParams;
  const held = readHeld((words.get("held") ?? "").split(",").filter(Boolean));
  if (!held) throw notFound();
  return previewRole(context.db, viewer, words.get("role") ?? "", held);
}
