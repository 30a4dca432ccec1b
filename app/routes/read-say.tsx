import { data } from "react-router";
import { typedIn } from "#app/asker.ts";
import { guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { SayView } from "#app/views/intake/say.tsx";
import { reportInput, sendReport } from "#server/intake/reports.ts";
import { readReleased } from "#server/reader/queries.ts";
import type { Route } from "./+types/read-say.ts";

export async function loader({ context, params }: Route.LoaderArgs) {
  const piece = await readReleased(context.db, params.slug);
  if (!piece) throw notFound();
  return { slug: piece.slug, title: piece.content.title };
}

export const action = guarded(async ({ context, params, request }: Route.ActionArgs) => {
  const sent = await request.formData();
  const typed = typedIn(sent);
  sent.set("slug", params.slug);
  const read = readForm(reportInput, sent);
  const again = (answer: ReturnType<typeof misread>) => data({ ...answer.data, typed, sent: false }, answer.init ?? {});
  if ("fields" in read) return again(misread("say", read.fields));
  const done = await runCommand("say", () => sendReport(context.act(null), read.values, context.address));
  if (!("value" in done)) return again(done);
  return { intent: "say", fields: {}, refusal: null, typed: {} as Record<string, string>, sent: true };
}, typedIn);

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Something not right? ${loaderData?.title ?? ""}` },
  { name: "robots", content: "noindex" },
];

export default function ReadSay({ loaderData, actionData }: Route.ComponentProps) {
  return <SayView piece={loaderData} answer={actionData ?? null} />;
}
