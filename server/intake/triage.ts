import { and, eq } from "drizzle-orm";
import { z } from "zod";
import {
  intakeAmended,
  intakeAsked,
  intakeDeclined,
  intakeGiven,
  intakeJoined,
  intakeReopened,
  intakeTaken,
} from "#core/events/intake.ts";
import { takeOver } from "#core/intake/taking.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { visible } from "../access/visible.ts";
import { colleague } from "../access/who.ts";
import { feed, intakeFile, kind, piece, requester } from "../db/schema/index.ts";
import { text } from "../piece/input.ts";
import { layPiece } from "../pieces/commands.ts";
import { BRIEF_MOST } from "../pieces/commission.ts";
import type { Act } from "../write.ts";
import { change as changeItem, type Item, type Judging, judging, onItem } from "./items.ts";
import { writeToSender } from "./letters.ts";
import { say } from "./requests.ts";

export const takeInput = z.object({
  ...onItem,
  title: text("Give it a title.", TITLE_LIMIT),
  kindId: z.uuid("Choose a kind."),
  sectionId: z.uuid("Choose a section."),
  writerId: z.union([z.literal("").transform(() => null), z.uuid()]).default(null),
  brief: z.string().trim().max(BRIEF_MOST, `At most ${BRIEF_MOST} characters fit.`).default(""),
  /** Epoch milliseconds. */
  publishAt: z.number().nullable().default(null),
});

/** Takes something up: a piece begins of it, with what it brought, for whoever is to write it. */
export function takeUp(act: Act, wanted: z.output<typeof takeInput>): Promise<Result<{ slug: string }>> {
  return judging(act, wanted, "take", async (change, item) => {
    const { actor } = change;
    const [theKind] = await change.tx.select().from(kind).where(eq(kind.id, wanted.kindId));
    const brought = item.content && theKind ? takeOver(item.fields ?? [], item.content, theKind.fields) : null;
    const { title, kindId, sectionId, writerId, brief, publishAt } = wanted;
    const begun = await layPiece(change, {
      title,
      kindId,
      sectionId,
      publishAt,
      private: false,
      commission: writerId === null && brief === "" ? null : { writerId: writerId ?? actor.id, brief },
      ...(brought && { fields: brought.fields }),
      kept: await filesOf(change, item),
    });
    if (!begun.ok) return begun;
    const pieceId = begun.value.id;
    await settle(change, item, { standing: "taken", pieceId });
    const payload = { title: item.title, sort: item.sort };
    change.happened(intakeTaken, payload, { pieceId, subjectId: item.id, tell: bringerOf(item) });
    await writeToSender(change, act, change.places, item.requesterId, intakeTaken, payload);
    return accept({ slug: begun.value.slug });
  });
}

/** What came along, in the name of who sent it; by what right it may be shown is for the piece to say. */
async function filesOf({ tx }: Judging, item: Item) {
  const [files, [from], [of]] = await Promise.all([
    tx.select().from(intakeFile).where(eq(intakeFile.itemId, item.id)),
    tx
      .select({ name: requester.name })
      .from(requester)
      .where(eq(requester.id, item.requesterId ?? "")),
    tx
      .select({ name: feed.name })
      .from(feed)
      .where(eq(feed.id, item.feedId ?? "")),
  ]);
  const credit = from?.name ?? of?.name ?? item.sender ?? "";
  return files.map(({ fileId, name }) => ({ fileId, name, description: "", credit, licence: "" }));
}

const settle = (change: Judging, item: Item, more: Partial<Item>) =>
  changeItem(change, item, { settledAt: change.now, settledById: change.actor.id, ...more });

/** Who of the team brought something is told what became of it. */
const bringerOf = ({ byId }: Item) => ({ bringer: byId === null ? [] : [byId] });

export const joinInput = z.object({ ...onItem, slug: z.string().trim().min(1, "Which piece?").max(120) });

/** Joins something to a piece there is, which is then about it too. */
export function joinTo(act: Act, wanted: z.output<typeof joinInput>): Promise<Result<{ slug: string }>> {
  return judging(act, wanted, "join", async (change, item) => {
    const { tx, actor, places, now } = change;
    const [to] = await tx
      .select({ id: piece.id, slug: piece.slug })
      .from(piece)
      .where(and(eq(piece.slug, wanted.slug), visible({ ...actor, places, now })));
    if (!to) return refuse({ code: "unknown-piece", field: "slug", sentence: "No piece you may see is called so." });
    await settle(change, item, { standing: "joined", pieceId: to.id });
    const payload = { title: item.title, sort: item.sort };
    change.happened(intakeJoined, payload, { pieceId: to.id, subjectId: item.id, tell: bringerOf(item) });
    await writeToSender(change, act, places, item.requesterId, intakeJoined, payload);
    return accept({ slug: to.slug });
  });
}

export const declineInput = z.object({ ...onItem, reason: text("Say why.", 1_000) });

/** Declines something, or sets an idea aside, with the reason, which can be looked up later. */
export function decline(act: Act, wanted: z.output<typeof declineInput>): Promise<Result<null>> {
  return judging(act, wanted, "decline", async (change, item) => {
    const { reason } = wanted;
    await settle(change, item, { standing: "declined", reason });
    const payload = { title: item.title, sort: item.sort, reason };
    change.happened(intakeDeclined, payload, { subjectId: item.id, tell: bringerOf(item) });
    await writeToSender(change, act, change.places, item.requesterId, intakeDeclined, payload);
    return accept(null);
  });
}

export const reopenInput = z.object(onItem);

/** Takes up again what was declined: it waits as before. Its sender is told nothing until something is decided. */
export function reopen(act: Act, wanted: z.output<typeof reopenInput>): Promise<Result<null>> {
  return judging(act, wanted, "reopen", async (change, item) => {
    await changeItem(change, item, { standing: "waiting", settledAt: null, settledById: null, reason: null });
    change.happened(intakeReopened, { title: item.title }, { subjectId: item.id });
    return accept(null);
  });
}

export const askInput = z.object({ ...onItem, question: text("What is asked?", 4_000) });

/** Asks whoever sent something a question back; it waits for their answer then. */
export function askBack(act: Act, wanted: z.output<typeof askInput>): Promise<Result<null>> {
  return judging(act, wanted, "ask", async (change, item) => {
    if (item.requesterId === null)
      return refuse({ code: "nobody", sentence: "They left no address, so nothing can be asked." });
    const { question } = wanted;
    await changeItem(change, item, { standing: "asked" });
    await say(change, item.id, "question", question);
    change.happened(intakeAsked, { title: item.title, question }, { subjectId: item.id });
    await writeToSender(change, act, change.places, item.requesterId, intakeAsked, { title: item.title, question });
    return accept(null);
  });
}

export const giveInput = z.object({ ...onItem, personId: z.uuid("Choose somebody.") });

/** Gives something to somebody to see to. */
export function giveTo(act: Act, wanted: z.output<typeof giveInput>): Promise<Result<null>> {
  return judging(act, wanted, "give", async (change, item) => {
    const found = await colleague(change.tx, wanted.personId, "personId");
    if (!found.ok) return found;
    const who = found.value;
    if (item.holderId === who.id) return accept(null);
    await changeItem(change, item, { holderId: who.id });
    change.happened(
      intakeGiven,
      { title: item.title, person: who.name },
      { subjectId: item.id, tell: { holder: [who.id] } },
    );
    return accept(null);
  });
}

export const amendInput = z.object({ ...onItem, title: text("Give it a title.", TITLE_LIMIT) });

/** Calls something that came in otherwise, before it is judged. */
export function amend(act: Act, wanted: z.output<typeof amendInput>): Promise<Result<null>> {
  return judging(act, wanted, "amend", async (change, item) => {
    const { title } = wanted;
    if (title === item.title) return accept(null);
    const content = item.content && { ...item.content, title };
    await changeItem(change, item, { title, content });
    change.happened(intakeAmended, { title, was: item.title }, { subjectId: item.id });
    return accept(null);
  });
}
