import { ReaderView } from "#app/views/reader/page.tsx";
import { masthead } from "#server/reader/queries.ts";
import type { Route } from "./+types/reader.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const { name, zone } = await masthead(context.db);
  return { publication: name, clock: { now: context.now, zone } };
}

/** Readers' pages need no script and carry none; only who looks from the workshop is shown more, by script. */
export const handle = { readers: true };

export default function Reader(props: Route.ComponentProps) {
  return <ReaderView {...props} />;
}
