import { desc, eq } from "drizzle-orm";
import type { Field } from "#core/text/field.ts";
import { intakeItem, outbox, piece } from "#server/db/schema/index.ts";
import { feedInput } from "#server/intake/feeds.ts";
import { formInput, saveForm } from "#server/intake/forms.ts";
import { sendReport } from "#server/intake/reports.ts";
import { openAsked, sendRequest } from "#server/intake/requests.ts";
import { accepted, MORNING, type World } from "./world.ts";

const FIELDS: Omit<Field, "key">[] = [
  { name: "Text", type: "manuscript", required: true, maxWords: 40 },
  { name: "Who can be asked", type: "line", required: true },
];

/** A form for items of the Bulletin, as its page sends it. */
export const bulletinForm = (world: World, name: string, more: object = {}) =>
  formInput.parse({
    name,
    about: "",
    kindId: world.id("kind bulletin-item"),
    sectionId: world.id("section bulletin"),
    lead: "2wd",
    promise: "1wd",
    openTo: "anybody",
    fields: JSON.stringify(FIELDS.map((field) => ({ key: field.name === "Text" ? "body" : "", ...field }))),
    on: true,
    ...more,
  });

export const WARDEN = { email: "ottavia@huts.example", name: "Ottavia Prell" };
/** Answers to all a form of the Bulletin asks. */
export const ANSWERS = { body: "The winter room is open.", "who-can-be-asked": "Ottavia" };

/** A request as a form sends it. */
export const requestFor = (form: string, title: string, more: object = {}) => ({
  form,
  title,
  ...WARDEN,
  wishedAt: null,
  answers: ANSWERS as Record<string, string>,
  ...more,
});

/** Something that came in, as a command names it. */
export async function inIntake(world: World, id: string) {
  const [row] = await world.db.select().from(intakeItem).where(eq(intakeItem.id, id));
  if (!row) throw new Error("it did not come in");
  return { itemId: id, revision: row.revision, row };
}

let forms = 0;
/** A confirmed request of a warden's, by a form of its own. */
export async function requested(world: World, title: string, more: object = {}) {
  const { key } = accepted(await saveForm(world.act("ilda"), bulletinForm(world, `Form of ${title} ${++forms}`)));
  const known = { address: `of ${title}`, known: WARDEN, team: false };
  accepted(await sendRequest(world.act(null), requestFor(key, title, more), known));
  const [row] = await world.db
    .select({ id: intakeItem.id })
    .from(intakeItem)
    .where(eq(intakeItem.title, title))
    .orderBy(desc(intakeItem.id));
  return inIntake(world, row?.id ?? "");
}

/** What a reader says of a piece that is out. */
export async function saidOf(world: World, pieceId: string, email: string | null = "reader@post.example") {
  const [about] = await world.db.select().from(piece).where(eq(piece.id, pieceId));
  const said = { slug: about?.slug ?? "", words: "The bridge is gone.", quote: "over the bridge", name: "R.", email };
  accepted(await sendReport(world.act(null), said, `of ${pieceId}`));
  const [row] = await world.db
    .select({ id: intakeItem.id })
    .from(intakeItem)
    .where(eq(intakeItem.aboutId, pieceId))
    .orderBy(desc(intakeItem.id));
  return inIntake(world, row?.id ?? "");
}

/** The mails to an address, the latest first. */
export const mailsTo = (world: World, to: string) =>
  world.db.select().from(outbox).where(eq(outbox.recipient, to)).orderBy(desc(outbox.id));

/** The secret of the link in the latest mail to an address. */
export async function linkTo(world: World, to: string): Promise<string> {
  const [mail] = await mailsTo(world, to);
  return /\/asked\/([\w-]+)/.exec(mail?.body ?? "")?.[1] ?? "";
}

/** Opens the link of the latest mail to an address. @returns what the browser is known by then */
export const openLink = async (world: World, to: string, now = MORNING) =>
  accepted(await openAsked(world.act(null, now), await linkTo(world, to)));

/** A feed at an address, as its form sends it. */
export const feedAt = (url: string, more: object = {}) => feedInput.parse({ name: "Snow", url, ...more });
