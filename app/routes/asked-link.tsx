import { redirect } from "react-router";
import { answered, guarded, notFound, runCommand } from "#app/request.ts";
import { AskedLinkView } from "#app/views/intake/asked-link.tsx";
import { setCookies } from "#server/http/cookies.ts";
import { linkOf } from "#server/intake/keys.ts";
import { openAsked, renewAsked } from "#server/intake/requests.ts";
import type { Route } from "./+types/asked-link.ts";

/** What looks at mails before their readers opens nothing: a link is used up by a button, not by being looked at. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const link = await linkOf(context.db, params.secret, context.now);
  if (!link) throw notFound();
  return { good: link.good };
}

export const action = guarded(async ({ context, params, request }: Route.ActionArgs) => {
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  if (intent === "renew") {
    const done = await runCommand(intent, () => renewAsked(context.act(null), params.secret, context.address));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "open") throw notFound();
  const done = await runCommand(intent, () => openAsked(context.act(null), params.secret));
  if (!("value" in done)) return done;
  return redirect("/asked", { headers: setCookies({ asked: done.value }, context.baseUrl) });
});

export const meta: Route.MetaFunction = () => [{ title: "Your requests" }, { name: "robots", content: "noindex" }];

export default function AskedLink({ loaderData, actionData }: Route.ComponentProps) {
  return <AskedLinkView good={loaderData.good} answer={actionData ?? null} />;
}
