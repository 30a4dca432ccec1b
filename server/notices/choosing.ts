import { and, asc, desc, eq, ne } from "drizzle-orm";
import { z } from "zod";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { tellingChosen } from "#core/events/people.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import {
  CLOCK,
  HOWS,
  READY_CHOICES,
  ROUTES,
  type TellingChoices,
  TOPICS,
  tellingSchema,
  unreachable,
} from "#core/telling/choices.ts";
import { administering } from "../access/administer.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { outbox, person, piece, publication } from "../db/schema/index.ts";
import { whyNotAddress } from "../outside/send.ts";
import { decipher, encipher } from "../people/secrets.ts";
import { loadPlaces } from "../sections/places.ts";
import { schedule } from "../tasks/schedule.ts";
import type { Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { standInChannel } from "./chat.ts";

const how = z.enum(["", ...HOWS]).default("");
const time = z.string().trim().max(5).default("");

/** How somebody wants to be told, as a form says it: `mail.decide`, `chat.decide` …; empty is as the publication has it. */
export const tellingInput = z.object({
  ...Object.fromEntries(ROUTES.flatMap((route) => TOPICS.map((topic) => [`${route}.${topic}`, how]))),
  digestAt: time,
  quietFrom: time,
  quietUntil: time,
  /** A channel's incoming webhook; empty where it stays what it is. */
  chat: z.string().trim().max(600, "That address is too long.").default(""),
  /** Whether the channel there is is taken away. */
  noChat: z.stringbool().default(false),
});
type Wanted = z.output<typeof tellingInput>;

/** The choices a form makes; or what of it is no choice. */
function choicesIn(wanted: Wanted): Result<TellingChoices> {
  const { digestAt, quietFrom, quietUntil } = wanted;
  const said = wanted as unknown as Record<string, string>;
  const of = (route: string) =>
    Object.fromEntries(
      TOPICS.flatMap((topic) => (said[`${route}.${topic}`] ? [[topic, said[`${route}.${topic}`]]] : [])),
    );
  for (const [field, value] of Object.entries({ digestAt, quietFrom, quietUntil }))
    if (value !== "" && !CLOCK.test(value)) return refuse({ code: "no-time", field, sentence: "Write it as 08:00." });
  if ((quietFrom === "") !== (quietUntil === ""))
    return refuse({
      code: "half",
      field: quietFrom === "" ? "quietFrom" : "quietUntil",
      sentence: "Quiet hours have a beginning and an end; leave both empty for none.",
    });
  const quiet = quietFrom && quietFrom !== quietUntil ? { from: quietFrom, until: quietUntil } : null;
  return accept(tellingSchema.parse({ mail: of("mail"), chat: of("chat"), quiet, ...(digestAt && { digestAt }) }));
}

/** Chooses how one is told. @param standIns whether the chat stand-in may be named */
export function chooseTelling(act: Act, wanted: Wanted, standIns: boolean): Promise<Result<null>> {
  return write(act, async (change) => {
    const { tx, actor } = change;
    if (!actor || actor.guest) return refuse({ code: "not-granted", sentence: "Guests are told nothing." });
    const chosen = choicesIn(wanted);
    if (!chosen.ok) return chosen;
    const at = eq(person.id, actor.id);
    const [row] = await tx.select({ chat: person.chatAddress }).from(person).where(at);
    const { telling } = await loadPlaces(tx);
    const none = wanted.noChat || (wanted.chat === "" && !row?.chat);
    // Without a channel chat reaches nobody.
    const reached = none ? { ...chosen.value, chat: {} } : chosen.value;
    const silent = unreachable(reached, none ? { ...telling, chat: {} } : telling);
    if (silent) return refuse({ code: "unreachable", field: "mail.decide", sentence: silent });
    const named = wanted.noChat ? "" : wanted.chat;
    const closed = named ? whyNotAddress(named, standIns ? standInChannel(act.baseUrl) : null) : null;
    if (closed) return refuse({ code: "address", field: "chat", sentence: closed });
    const chat = named ? { chatAddress: encipher(named) } : wanted.noChat ? { chatAddress: null } : {};
    await tx
      .update(person)
      .set({ telling: chosen.value, ...chat })
      .where(at);
    change.happened(tellingChosen, { choices: chosen.value, chat: !none }, { subjectId: actor.id });
    return accept(null);
  });
}

/** Chooses how people are told who chose nothing themselves. */
export function chooseDefaults(act: Act, wanted: Wanted): Promise<Result<null>> {
  return administering(act, "publication.edit", async ({ tx, happened }) => {
    const chosen = choicesIn(wanted);
    if (!chosen.ok) return chosen;
    if (chosen.value.mail.decide === "never")
      return refuse({
        code: "unreachable",
        field: "mail.decide",
        sentence:
          "Not everybody has a channel: whose decision is asked hears of it by mail, unless they choose otherwise.",
      });
    const [row] = await tx.select({ id: publication.id }).from(publication).for("update");
    await tx.update(publication).set({ telling: chosen.value });
    happened(tellingChosen, { choices: chosen.value, chat: false }, { subjectId: row?.id });
    return accept(null);
  });
}

/** How a viewer is told, what the publication has, and their channel; of a channel only where it leads is shown. */
export async function tellingOf(db: Queryable, viewer: Viewer) {
  const [row] = await db
    .select({ telling: person.telling, chat: person.chatAddress })
    .from(person)
    .where(eq(person.id, viewer.id));
  return {
    own: row?.telling ?? null,
    publication: viewer.places.telling,
    ready: READY_CHOICES,
    chat: row?.chat ? new URL(decipher(row.chat)).host : null,
  };
}

/** So many messages that did not leave are listed. */
const LISTED = 100;

/** Messages that did not leave, the latest first, with the reason; of what they say only what the viewer may see. */
export const undelivered = (db: Queryable, viewer: Viewer) =>
  db
    .select({
      id: outbox.id,
      route: outbox.route,
      person: person.name,
      recipient: outbox.recipient,
      title: piece.title,
      status: outbox.status,
      attempts: outbox.attempts,
      reason: outbox.lastError,
    })
    .from(outbox)
    .leftJoin(person, eq(person.id, outbox.personId))
    .leftJoin(piece, and(eq(piece.id, outbox.pieceId), visible(viewer)))
    .where(and(ne(outbox.status, "sent"), ne(outbox.lastError, "")))
    .orderBy(asc(outbox.status), desc(outbox.id))
    .limit(LISTED);

export const againInput = z.object({ messageId: z.uuid() });

/** Tries once more to send a message that did not leave. */
export function sendAgain(act: Act, { messageId }: z.infer<typeof againInput>): Promise<Result<null>> {
  return write(act, async ({ tx, actor, now }) => {
    if (!actor || !can(actor, "publication.edit", PUBLICATION, now).allowed)
      return refuse({ code: "not-granted", sentence: "No role of yours lets you look after messages." });
    const at = and(eq(outbox.id, messageId), ne(outbox.status, "sent"));
    const [row] = await tx.select({ id: outbox.id }).from(outbox).where(at).for("update");
    if (!row) return refuse({ code: "left", sentence: "It has left meanwhile." });
    await tx.update(outbox).set({ status: "waiting", attempts: 0, lastError: null }).where(at);
    await schedule(tx, { kind: "mail", subject: messageId, dueAt: now });
    return accept(null);
  });
}
