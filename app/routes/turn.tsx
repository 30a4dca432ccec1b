import { requireViewer } from "#app/request.ts";
import { TurnView } from "#app/views/lists/turn.tsx";
import { beginnings } from "#server/pieces/lists.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import type { Route } from "./+types/turn.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { ...(await yourTurn(context.db, viewer)), mayBegin: beginnings(viewer).kinds.length > 0 };
}

export const meta: Route.MetaFunction = () => [{ title: "Your turn · Elenco" }];

export default function YourTurn(props: Route.ComponentProps) {
  return <TurnView {...props} />;
}
