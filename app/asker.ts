import type { AppLoadContext } from "react-router";
import type { Field } from "#core/text/field.ts";
import type { Calendar } from "#core/time/calendar.ts";
import { fromLocalInput } from "#core/time/local.ts";
import { type Reader, readDay, readMoment } from "#core/time/read.ts";
import type { FormRow } from "#server/intake/forms.ts";
import { requesterBy } from "#server/intake/keys.ts";
import type { Sender } from "#server/intake/requests.ts";
import type { FormAnswer } from "./form-answer.ts";

/** As whom a request is sent: by a link of an earlier mail, or as somebody of the team; else as whoever it may be. */
export async function senderOf(context: AppLoadContext, form: Pick<FormRow, "openTo">): Promise<Sender> {
  const known = await requesterBy(context.db, context.asked, context.now);
  const viewer = known && form.openTo !== "team" ? null : await context.viewer();
  const self = viewer && !viewer.guest ? { email: viewer.email.toLowerCase(), name: viewer.name } : null;
  return { address: context.address, known: self ?? known, team: self !== null };
}

/** How the answers of a form are named in what it sends: apart from its own fields. */
export const ANSWER = "a.";

/** A form has so many values at most: no more of them are looked at. */
const VALUES_MOST = 200;

/** The words a form sent, by the names of its fields: what it shows again. */
export function typedIn(sent: FormData): Record<string, string> {
  const typed: Record<string, string> = {};
  let count = 0;
  for (const [name, value] of sent) {
    if (++count > VALUES_MOST) break;
    if (typeof value === "string") typed[name] = value;
  }
  return typed;
}

/** What somebody filled in: answers by the keys of their fields, and the date wished for, dates as people write them. */
export function askedIn(typed: Readonly<Record<string, string>>, fields: readonly Field[], reader: Reader) {
  const answers = Object.fromEntries(
    fields.map(({ key, type }) => {
      const words = typed[ANSWER + key] ?? "";
      return [key, (type === "date" && readDay(words.slice(0, 80), reader)) || words];
    }),
  );
  const wish = (typed.wishedAt ?? "").slice(0, 80).trim();
  const moment = wish === "" ? null : readMoment(wish, reader);
  const wishedAt = moment === null ? null : fromLocalInput(moment, reader.zone);
  return { answers, wishedAt, isNoDate: wish !== "" && wishedAt === null };
}

/** What is said of a date that is none. */
export const NO_DATE = { wishedAt: "This is no date. Write it as 3 Dec, or 3 Dec 17:30." };

/** How dates are read that are written in the publication's zone. */
export const readerIn = ({ calendar }: { calendar: Calendar }, now: number): Reader => ({
  now,
  zone: calendar.timeZone,
  calendar,
});

/** A refusal about an answer, at the field it is about. @param keys those of the form's fields */
export function atItsField<A extends FormAnswer>(answer: A, keys: readonly string[]): A {
  const field = answer.refusal?.field;
  if (!answer.refusal || field === undefined || !keys.includes(field)) return answer;
  return { ...answer, refusal: { ...answer.refusal, field: ANSWER + field } };
}
