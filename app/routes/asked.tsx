import { data } from "react-router";
import { z } from "zod";
import { ANSWER, askedIn, atItsField, NO_DATE, readerIn, typedIn } from "#app/asker.ts";
import { answered, guarded, misread, notFound, readForm, runCommand } from "#app/request.ts";
import { AskedView } from "#app/views/intake/asked.tsx";
import { toLocalInput } from "#core/time/local.ts";
import { type Requester, requesterBy } from "#server/intake/keys.ts";
import { ownRequest, requesterPage } from "#server/intake/requester.ts";
import {
  amendOwn,
  amendOwnInput,
  ownInput,
  replyInput,
  replyOwn,
  sendLink,
  withdrawOwn,
} from "#server/intake/requests.ts";
import { loadPlaces } from "#server/sections/places.ts";
import type { Route } from "./+types/asked.ts";

export async function loader({ context }: Route.LoaderArgs) {
  const who = await requesterBy(context.db, context.asked, context.now);
  if (!who) return { who: null, requests: [] };
  const [requests, { calendar }] = await Promise.all([requesterPage(context.db, who), loadPlaces(context.db)]);
  return {
    who: { name: who.name, email: who.email },
    requests: requests.map((one) => ({
      ...one,
      wished: one.wishedAt === null ? "" : toLocalInput(one.wishedAt, calendar.timeZone).replace("T", " "),
    })),
  };
}

const link = z.object({ email: z.email("This is no address.").max(200).toLowerCase() });

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const typed = typedIn(sent);
  const act = context.act(null);
  const keys = Object.keys(typed).map((name) => name.slice(ANSWER.length));
  const again = ({ data: answer, init }: ReturnType<typeof misread>) =>
    data({ ...atItsField(answer, keys), typed }, init ?? {});
  if (intent === "link") {
    const read = readForm(link, sent);
    if ("fields" in read) return again(misread(intent, read.fields));
    const done = await runCommand(intent, () => sendLink(act, read.values.email, context.address));
    return "value" in done ? { ...answered(intent), typed } : again(done);
  }
  const who = await requesterBy(context.db, context.asked, context.now);
  if (!who) return again(misread(intent, { "": UNKNOWN }));
  const done = await acts(who);
  const { itemId = "" } = typed;
  return "value" in done ? { ...answered(intent), typed: { itemId } as Record<string, string> } : again(done);

  async function acts(who: Requester) {
    if (intent === "answer") {
      const read = readForm(replyInput, sent);
      return "fields" in read
        ? misread(intent, read.fields)
        : runCommand(intent, () => replyOwn(act, who, read.values));
    }
    if (intent === "withdraw") {
      const read = readForm(ownInput, sent);
      return "fields" in read
        ? misread(intent, read.fields)
        : runCommand(intent, () => withdrawOwn(act, who, read.values));
    }
    if (intent !== "amend") throw notFound();
    const [own, places] = await Promise.all([ownRequest(context.db, who, typed.itemId ?? ""), loadPlaces(context.db)]);
    const { answers, wishedAt, isNoDate } = askedIn(typed, own?.fields ?? [], readerIn(places, context.now));
    if (isNoDate) return misread(intent, NO_DATE);
    const read = amendOwnInput.safeParse({ ...typed, wishedAt, answers });
    if (!read.success)
      return misread(
        intent,
        Object.fromEntries(read.error.issues.map(({ path, message }) => [String(path[0]), message])),
      );
    return runCommand(intent, () => amendOwn(act, who, read.data));
  }
}, typedIn);

const UNKNOWN = "This browser is known no more. Have a link sent to you; what you wrote stays here.";

export const meta: Route.MetaFunction = () => [{ title: "Your requests" }, { name: "robots", content: "noindex" }];

export default function Asked({ loaderData, actionData }: Route.ComponentProps) {
  return <AskedView page={loaderData} answer={actionData ?? null} prefix={ANSWER} />;
}
