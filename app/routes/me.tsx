import type { RegistrationResponseJSON } from "@simplewebauthn/server";
import { data } from "react-router";
import { z } from "zod";
import { away } from "#app/away-form.ts";
import { browserOf, keepSession } from "#app/browser.ts";
import { answerOf } from "#app/passkey-form.ts";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { MeView } from "#app/views/people/me.tsx";
import type { SecondFactorAnswer } from "#app/views/people/second-factor.tsx";
import { demandsSecondFactor } from "#server/access/holders.ts";
import { changePassword, chooseZone } from "#server/people/accounts.ts";
import { addPasskey, dropPasskey, listPasskeys } from "#server/people/passkeys.ts";
import { choosable, personPage } from "#server/people/queries.ts";
import { dropSecondFactor, newAuthenticator, setUpSecondFactor } from "#server/people/second-factor.ts";
import { endSessions, listSessions } from "#server/people/sessions.ts";
import type { Route } from "./+types/me.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const page = await personPage(context.db, viewer, viewer.key);
  if (!page) throw notFound();
  const setting = new URL(request.url).searchParams.get("do") === "second-factor" && !page.hasCode && !viewer.seenBy;
  const [people, sessions, passkeys, pending] = await Promise.all([
    choosable(context.db, viewer),
    viewer.seenBy ? [] : listSessions(context.db, viewer, context.secret),
    listPasskeys(context.db, viewer),
    setting ? newAuthenticator(viewer.email) : null,
  ]);
  const zone = { own: viewer.ownZone, publication: viewer.calendar.timeZone, all: Intl.supportedValuesOf("timeZone") };
  const demanded = demandsSecondFactor(viewer, viewer.now);
  return { page, people, sessions, passkeys, demanded, pending, zone };
}

const forms = {
  password: z.object({ old: z.string().max(1000), password: z.string().max(1000) }),
  "set-up": z.object({ code: z.string().trim().min(1, "The code.").max(40), secret: z.string().max(64) }),
  "add-passkey": z.object({
    name: z.string().trim().max(60, "At most 60 characters fit."),
    response: answerOf<RegistrationResponseJSON>(),
  }),
  "drop-passkey": z.object({ id: z.uuid() }),
  zone: z.object({
    zone: z
      .string()
      .max(60)
      .transform((zone) => zone || null),
  }),
  drop: z.object({ old: z.string().max(1000) }),
  "end-session": z.object({
    id: z
      .string()
      .max(64)
      .transform((id) => id || null),
  }),
};

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  const session = context.secret ?? "";
  const absent = await away(intent, form, act, viewer.id, viewer);
  if (absent) return absent;
  if (intent === "password") {
    const read = readForm(forms.password, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => changePassword(act, { ...read.values, session }));
    return "value" in done ? data(answered(intent), { headers: keepSession(context, done.value) }) : done;
  }
  if (intent === "set-up") {
    const read = readForm(forms["set-up"], form);
    if ("fields" in read) return misread(intent, read.fields);
    const set = await setUpSecondFactor(act, read.values, { secret: session, browser: browserOf(context) });
    if (set.ok)
      return data<SecondFactorAnswer>(
        { ...answered(intent), codes: set.value.codes },
        { headers: keepSession(context, set.value.secret) },
      );
    const pending = await newAuthenticator(viewer.email, read.values.secret);
    return data<SecondFactorAnswer>({ intent, refusal: set.refusal, fields: {}, pending }, { status: 422 });
  }
  if (intent === "drop") {
    const read = readForm(forms.drop, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => dropSecondFactor(act, read.values.old));
    return "value" in done ? answered(intent) : done;
  }
  if (intent === "add-passkey") {
    const read = readForm(forms[intent], form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => addPasskey(act, read.values, session));
    if (!("value" in done)) return done;
    const { secret, codes } = done.value;
    return data<SecondFactorAnswer>(
      { ...answered(intent), ...(codes && { codes }) },
      { headers: keepSession(context, secret) },
    );
  }
  if (intent === "drop-passkey") {
    const read = readForm(forms[intent], form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => dropPasskey(act, read.values.id));
    return "value" in done ? answered(intent) : done;
  }
  if (intent === "zone") {
    const read = readForm(forms.zone, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => chooseZone(act, read.values.zone));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "end-session") throw notFound();
  const read = readForm(forms["end-session"], form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => endSessions(act, { id: read.values.id, secret: session }));
  return "value" in done ? answered(intent) : done;
});

export const meta: Route.MetaFunction = () => [{ title: "You · Elenco" }];

export default function Me(props: Route.ComponentProps) {
  return <MeView {...props} />;
}
