import { createHash } from "node:crypto";
import { eq } from "drizzle-orm";
import PostalMime, { type Email } from "postal-mime";
import { SMTPServer } from "smtp-server";
import { mailCame } from "#core/events/intake.ts";
import { paragraphsOf } from "#core/intake/form.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { fromHtml, type PictureOf } from "#core/text/html-in.ts";
import { textOf } from "#core/text/plain.ts";
import { newId } from "../db/schema/columns.ts";
import { intakeFile, intakeItem } from "../db/schema/index.ts";
import { keep } from "../files/commands.ts";
import type { Sniffed } from "../files/sniff.ts";
import { idOf } from "../files/store.ts";
import { attempt } from "../people/attempts.ts";
import { loadPlaces } from "../sections/places.ts";
import { type Act, write } from "../write.ts";
import { MATERIAL_FIELDS } from "./feeds.ts";
import { answeredBy, judgesOf } from "./items.ts";
import { type Along, FILES_MOST, sniffed } from "./requests.ts";

/** Whom one writes to: the intake, or the ideas. */
export const [INTAKE, IDEAS] = ["intake", "ideas"];

/** So large a mail is taken, in bytes; its parts are nested so deep at most; of its words so many characters. */
const [BYTES, DEEPEST, LONGEST] = [8_000_000, 50, 100_000];
/** So much of what it says stands in the list, in characters. */
const SAID = 2_000;

/** Where mail comes in. */
export interface MailIn {
  port: number;
  stop(): Promise<void>;
}

/**
 * Listens for mail to the intake. Whom it is said to be from nobody proved: it is shown as that, and opens nothing.
 *
 * @param act what a write of it begins with
 * @param port zero for any that is free
 */
export async function startMailIn(act: () => Promise<Act>, host: string, port: number): Promise<MailIn> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["AUTH", "STARTTLS"],
    size: BYTES,
    maxClients: 20,
    onRcptTo({ address }, _, done) {
      const [local = ""] = address.toLowerCase().split("@");
      done([INTAKE, IDEAS].includes(local) ? null : smtpError(550, "There is no such mailbox here."));
    },
    onData(stream, session, done) {
      const parts: Buffer[] = [];
      let size = 0;
      stream.on("data", (part: Buffer) => {
        size += part.length;
        if (size <= BYTES) parts.push(part);
      });
      stream.on("end", async () => {
        if (size > BYTES) return done(smtpError(552, "It is larger than 8 MB."));
        const [{ address: to } = { address: "" }] = session.envelope.rcptTo;
        const taken = await act()
          .then((one) => takeMail(one, Buffer.concat(parts), { to, from: session.remoteAddress }))
          .catch((error: Error) => refuse({ code: "broken", sentence: error.message }));
        if (taken.ok) return done();
        done(smtpError(taken.refusal.code === "unreadable" ? 554 : 451, taken.refusal.sentence));
      });
    },
  });
  server.on("error", () => undefined);
  await new Promise<void>((resolve, reject) => {
    server.server.once("error", reject);
    server.listen(port, host, resolve);
  });
  const { port: taken } = server.server.address() as { port: number };
  return { port: taken, stop: () => new Promise((resolve) => server.close(() => resolve())) };
}

const smtpError = (responseCode: number, message: string) => Object.assign(new Error(message), { responseCode });

/** Takes a mail in, once: as material to be taken or left, or as an idea where it was written to the ideas. */
export async function takeMail(
  act: Act,
  source: Buffer,
  { to, from }: { to: string; from: string },
): Promise<Result<null>> {
  const often = await attempt(act.db, { mail: from }, act.now);
  if (often.refusal) return refuse(often.refusal);
  const mail = await PostalMime.parse(source, { maxNestingDepth: DEEPEST }).catch(() => null);
  if (!mail) return refuse({ code: "unreadable", sentence: "The mail cannot be read." });
  const sender = [mail.from?.name, mail.from?.address && `<${mail.from.address}>`].filter(Boolean).join(" ");
  const title = (mail.subject ?? "").replace(/\s+/g, " ").trim().slice(0, TITLE_LIMIT) || "Without a subject";
  const isIdea = to.toLowerCase().startsWith(`${IDEAS}@`);
  const mailKey = createHash("sha256")
    .update(mail.messageId ?? source)
    .digest("hex");
  const along: (Along & Sniffed)[] = [];
  for (const { filename, content } of mail.attachments.slice(0, FILES_MOST)) {
    const bytes = Buffer.from(content as ArrayBuffer);
    const one = await sniffed({ name: (filename ?? "a file").slice(0, 200), bytes }, `mail ${from}`);
    // What cannot be kept is left out; the mail is taken without it.
    if (!("problem" in one)) along.push(one);
  }
  const body = bodyOf(mail, picturesIn(mail, along));
  return write<null>({ ...act, personId: null }, async (change) => {
    const { tx, now } = change;
    const [known] = await tx.select({ id: intakeItem.id }).from(intakeItem).where(eq(intakeItem.mailKey, mailKey));
    if (known) return accept(null);
    const places = await loadPlaces(tx);
    const id = newId();
    const where = { sectionId: null, kindId: null, holderId: null };
    await tx.insert(intakeItem).values({
      ...where,
      id,
      sort: isIdea ? "idea" : "material",
      standing: "waiting",
      title,
      words: textOf(body).trim().slice(0, SAID),
      content: isIdea ? null : { title, fields: { body } },
      fields: isIdea ? null : MATERIAL_FIELDS,
      sender: (sender || "nobody named").slice(0, 200),
      mailKey,
      at: now,
      dueAt: answeredBy(places, places.intake.promise, now),
    });
    for (const one of along) {
      const fileId = await keep(change, one);
      await tx.insert(intakeFile).ignore().values({ itemId: id, fileId, name: one.name });
    }
    // An idea waits in the list like any other; nobody is called for it.
    const judge = isIdea ? [] : await judgesOf(tx, where, places, now);
    change.happened(mailCame, { title, sender: sender || "nobody named" }, { subjectId: id, tell: { judge } });
    return accept(null);
  });
}

/** Which file a picture within a mail's words came along as, by its Content-ID (RFC 2392). */
function picturesIn({ attachments }: Email, along: readonly (Along & Sniffed)[]): PictureOf {
  const ids = new Map<string, string>(
    attachments.flatMap(({ contentId, content }) => {
      const one = along.find(({ bytes }) => bytes.equals(Buffer.from(content as ArrayBuffer)));
      return contentId && one?.width ? [[`cid:${contentId.replace(/^<|>$/g, "")}`, idOf(one.bytes)] as const] : [];
    }),
  );
  return (source) => ids.get(source) ?? null;
}

/** What a mail says, cleaned as anything pasted is. */
function bodyOf({ html, text }: Email, pictureOf: PictureOf) {
  if (html) return fromHtml(html.slice(0, LONGEST), pictureOf).manuscript;
  return paragraphsOf((text ?? "").slice(0, LONGEST));
}
