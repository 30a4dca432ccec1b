import { redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { editionAt } from "#app/edition-desk.ts";
import { form, formKeyOf, formNamed, type PageForm, someMoment } from "#app/forms.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
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
import { correctedPiece } from "#server/editions/past.ts";
import { reopenEdition, reopenInput, signEdition, signInput } from "#server/editions/signing.ts";
import type { Viewer } from "#server/viewer.ts";
import type { Route } from "./+types/edition.ts";

export async function loader(asked: Route.LoaderArgs) {
  const { viewer, page } = await editionAt(asked);
  const wanted = z.uuid().safeParse(new URL(asked.request.url).searchParams.get("corrected"));
  const corrected =
    page.out && wanted.success ? await correctedPiece(asked.context.db, viewer, page.id, wanted.data) : null;
  return { page, corrected, formKey: v7() };
}

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
