import { data } from "react-router";
import { ANSWER, askedIn, atItsField, NO_DATE, readerIn, senderOf, typedIn } from "#app/asker.ts";
import { answered, guarded, misread, notFound, runCommand } from "#app/request.ts";
import { AskView } from "#app/views/intake/ask.tsx";
import { missingIn } from "#core/intake/completeness.ts";
import { sayEarliest } from "#core/intake/earliest.ts";
import { readAnswers } from "#core/intake/form.ts";
import { earliestBy } from "#server/intake/ahead.ts";
import { openForm } from "#server/intake/forms.ts";
import { requestInput, sendRequest } from "#server/intake/requests.ts";
import { loadPlaces } from "#server/sections/places.ts";
import type { Route } from "./+types/ask.ts";

async function formOf(context: Route.LoaderArgs["context"], key: string) {
  const [form, places] = await Promise.all([openForm(context.db, key), loadPlaces(context.db)]);
  if (!form) throw notFound();
  const { calendar } = places;
  const ahead = async (wishedAt: number | null) => {
    const soonest = await earliestBy(context.db, places, form, wishedAt, context.now);
    return soonest ? sayEarliest(soonest, calendar.timeZone, context.now) : "";
  };
  return { form, reader: readerIn(places, context.now), ahead, sender: await senderOf(context, form) };
}

export async function loader({ context, params }: Route.LoaderArgs) {
  const { form, ahead, sender } = await formOf(context, params.form);
  const { key, name, about, fields, openTo } = form;
  return {
    form: { key, name, about, fields },
    known: sender.known,
    // A form for the team says so to who is not signed in, before anything is typed.
    shut: openTo === "team" && !sender.team,
    earliest: await ahead(null),
  };
}

export const action = guarded(async ({ context, params, request }: Route.ActionArgs) => {
  const { form, reader, ahead, sender } = await formOf(context, params.form);
  const sent = await request.formData();
  const typed = typedIn(sent);
  const { answers, wishedAt, isNoDate } = askedIn(typed, form.fields, reader);
  const keys = form.fields.map((one) => one.key);
  const nothing = { typed: {} as Record<string, string>, looked: null, sent: null };
  const again = ({ data: answer, init }: ReturnType<typeof misread>) =>
    data({ ...atItsField(answer, keys), ...nothing, typed }, init ?? {});
  if (isNoDate) return again(misread("send", NO_DATE));
  if (typed.look) {
    const read = readAnswers(form.fields, typed.title ?? "", answers);
    const missing =
      "problems" in read ? read.problems.map((one) => one.sentence) : missingIn(form.fields, read.content);
    return { ...answered("send"), ...nothing, typed, looked: { missing, earliest: await ahead(wishedAt) } };
  }
  const who = sender.known ?? { name: typed.name ?? "", email: typed.email ?? "" };
  const wanted = requestInput.safeParse({ form: form.key, title: typed.title ?? "", ...who, wishedAt, answers });
  if (!wanted.success)
    return again(
      misread("send", Object.fromEntries(wanted.error.issues.map(({ path, message }) => [String(path[0]), message]))),
    );
  const done = await runCommand("send", async () =>
    sendRequest(context.act(null), wanted.data, sender, await filesIn(sent)),
  );
  if (!("value" in done)) return again(done);
  return { ...answered("send"), ...nothing, sent: { ...done.value, email: wanted.data.email } };
}, typedIn);

/** The files that came along, each with what it is called. */
const filesIn = (sent: FormData) =>
  Promise.all(
    sent
      .getAll("files")
      .filter((one) => one instanceof File && one.size > 0)
      .map(async (one) => ({ name: (one as File).name, bytes: Buffer.from(await (one as File).arrayBuffer()) })),
  );

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: loaderData?.form.name ?? "Ask" },
  { name: "robots", content: "noindex" },
];

export default function Ask({ loaderData, actionData }: Route.ComponentProps) {
  return <AskView page={loaderData} answer={actionData ?? null} prefix={ANSWER} />;
}
