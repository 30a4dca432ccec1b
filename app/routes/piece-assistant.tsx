import { redirect } from "react-router";
import { v7 } from "uuid";
import { form, formKeyOf, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, notFound, requireViewer } from "#app/request.ts";
import { PieceAssistantView } from "#app/views/assist/page.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import {
  askAssistant,
  askInput,
  leaveErrand,
  leaveErrandInput,
  pointInput,
  remarkOnPoint,
  takeErrand,
  takeErrandInput,
} from "#server/assist/commands.ts";
import { assistPage } from "#server/assist/queries.ts";
import type { Route } from "./+types/piece-assistant.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const page = await assistPage(context.db, viewer, params.slug, new URL(request.url).searchParams.get("errand"));
  if (!page) throw notFound();
  return { ...page, formKey: v7() };
}

const FORMS: Record<string, PageForm> = {
  ask: form(askInput, askAssistant),
  take: form(takeErrandInput, takeErrand, true),
  leave: form(leaveErrandInput, leaveErrand),
  remark: form(pointInput, remarkOnPoint),
};

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const wanted = formNamed(FORMS, intent);
  const done = await wanted.submit(intent, sent, context.act(viewer.id, formKeyOf(sent)));
  if (!("value" in done)) return done;
  return wanted.leaves ? redirect(`/pieces/${params.slug}`) : answered(intent);
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Assistant for ${loaderData?.piece.title ?? "a piece"} · Elenco` },
];

export default function PieceAssistant({ loaderData, actionData }: Route.ComponentProps) {
  return <PieceAssistantView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
