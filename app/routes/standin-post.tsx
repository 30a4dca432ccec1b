import { notFound } from "#app/request.ts";
import { PostView } from "#app/views/standins/post.tsx";
import { listMail } from "#server/standins/post.ts";
import type { Route } from "./+types/standin-post.ts";

export async function loader({ context }: Route.LoaderArgs) {
  if (!context.standIns) throw notFound();
  return { mail: await listMail(context.db) };
}

export const meta: Route.MetaFunction = () => [{ title: "Mail stand-in" }];

export default function Post(props: Route.ComponentProps) {
  return <PostView {...props} />;
}
