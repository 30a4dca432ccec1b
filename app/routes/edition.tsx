import { redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { form, formKeyOf, formNamed, type PageForm, someMoment } from "#app/forms.ts";
import { answered, guarded, notFound, requireViewer } from "#app/request.ts";
import { EditionView } from "#app/views/editions/edition.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import {
  dateInput,
  dropEdition,
  dropInput,
  fillEdition,
  fillInput,
  moveEdition,
  orderEdition,
  orderInput,
  takeOut,
  takeOutInput,
} from "#server/editions/commands.ts";
import { releaseEdition, releaseInput } from "#server/editions/leaving.ts";
import { correctedPiece, editionPage } from "#server/editions/queries.ts";
import { reopenEdition, reopenInput, signEdition, signInput } from "#server/editions/signing.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Route } from "./+types/edition.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const page = await editionPage(context.db, viewer, params.channel, numberIn(params.number), context);
  if (!page) throw notFound();
  const asked = z.uuid().safeParse(new URL(request.url).searchParams.get("corrected"));
  const corrected = page.out && asked.success ? await correctedPiece(context.db, viewer, page.id, asked.data) : null;
  return { page, corrected, formKey: v7() };
}

/** The number of an edition as its address says it; 0, which none has, where it says none. */
const numberIn = (text: string) => (/^[1-9]\d{0,6}$/.test(text) ? Number(text) : 0);

const formsOf = ({ zone }: Viewer): Record<string, PageForm> => ({
  fill: form(fillInput, fillEdition, true),
  "take-out": form(takeOutInput, takeOut),
  order: form(orderInput, orderEdition),
  date: form(dateInput.extend({ at: someMoment(zone) }), moveEdition, true),
  drop: form(dropInput, dropEdition),
  sign: form(signInput, signEdition, true),
  reopen: form(reopenInput, reopenEdition, true),
  release: form(releaseInput, releaseEdition, true),
});

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const wanted = formNamed(formsOf(viewer), intent);
  const done = await wanted.submit(intent, sent, context.act(viewer.id, formKeyOf(sent)));
  if (!("value" in done)) return done;
  if (intent === "drop") return redirect("/editions");
  return wanted.leaves ? redirect(`/editions/${params.channel}/${params.number}`) : answered(intent);
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.page.name ?? "Nothing here"} · Elenco` },
];

export default function Edition({ loaderData, actionData }: Route.ComponentProps) {
  return <EditionView key={loaderData.page.id} {...loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
