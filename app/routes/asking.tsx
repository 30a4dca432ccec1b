import { AskingView } from "#app/views/intake/asking.tsx";
import { masthead } from "#server/reader/queries.ts";
import type { Route } from "./+types/asking.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const { name, zone } = await masthead(context.db);
  return { publication: name, clock: { now: context.now, zone } };
}

/** Pages for whoever has no account are plain forms; what little script they have is their own. */
export const handle = { readers: true };

export const meta: Route.MetaFunction = () => [{ name: "robots", content: "noindex" }];

export default function Asking({ loaderData }: Route.ComponentProps) {
  return <AskingView {...loaderData} />;
}
