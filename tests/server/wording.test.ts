import { asc, desc, eq } from "drizzle-orm";
import { CATALOGUE } from "#core/events/catalogue.ts";
import { NOTICES, SAMPLE_PARAMS, samplePayload, wordedFields } from "#core/events/worded.ts";
import { accept } from "#core/refusal.ts";
import { READY_WORDING } from "#core/telling/wording.ts";
import { chatChannel, outbox, person, piece, standInChat, standInMail, wording } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { chooseTelling, tellingInput } from "#server/notices/choosing.ts";
import { channelWords, messageWords } from "#server/notices/messages.ts";
import { nameChannel, removeChannel } from "#server/notices/naming.ts";
import { listNotices } from "#server/notices/queries.ts";
import {
  giveUpWording,
  keepWording,
  listWordings,
  tryWording,
  wordingInput,
  wordingPage,
  wordingTest,
} from "#server/notices/wording.ts";
import { remark } from "#server/remarks/commands.ts";
import { type StandInPost, startPost } from "#server/standins/post.ts";
import { write } from "#server/write.ts";
import { worker } from "../support/worker.ts";
import { accepted, begin, bindReview, codeOf, MORNING, makeWorld, send, type World } from "../support/world.ts";

const MINUTE = 60_000;

let world: World;
let post: StandInPost;
let pieceId: string;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
  post = await startPost(world.db, async () => MORNING);
  // The letter of the week goes to who wants it.
  accepted(await chooseTelling(world.act("wim"), tellingInput.parse({ "mail.week": "at-once" }), true));
  pieceId = (await begin(world, "Words for everything")).id;
  accepted(await send(world, pieceId, "tobia", "send"));
});
afterAll(async () => {
  await post.stop();
  await world.close();
});

let now = MORNING;
const leave = () => doDue(worker(world, now, { smtpUrl: post.url }), "mail");
const mails = async () =>
  world.db
    .select()
    .from(standInMail)
    .where(eq(standInMail.recipient, "wim@fontelba.example"))
    .orderBy(asc(standInMail.at));

/** Lets each notice there is be told Wim, and leave. @returns the mails, by event and part */
async function everyNotice(): Promise<Map<string, { subject: string; body: string }>> {
  const sent = new Map<string, { subject: string; body: string }>();
  for (const { event, part } of NOTICES) {
    now += 10 * MINUTE;
    await leave();
    await world.db.delete(standInMail);
    const kind = CATALOGUE.get(event);
    if (!kind) throw new Error(event);
    accepted(
      await write(world.act("ilda", now), async (change) => {
        change.happened(kind as never, samplePayload(event, now) as never, {
          pieceId,
          tell: { [part]: [{ to: world.id("wim"), params: SAMPLE_PARAMS }] } as never,
        });
        return accept(null);
      }),
    );
    now += 10 * MINUTE;
    await leave();
    const [mail] = await mails();
    if (mail) sent.set(`${event} ${part}`, mail);
  }
  return sent;
}

test("each notice of each event leaves in its ready-made words, and in the team's own", async () => {
  const ready = await everyNotice();
  expect([...ready.keys()]).toEqual(NOTICES.map(({ event, part }) => `${event} ${part}`));
  for (const { subject, body } of ready.values()) {
    expect(`${subject}\n${body}`).not.toMatch(/undefined|\[object|NaN|\{\{/);
    expect(body).toContain(subject);
  }
  for (const { event, part } of NOTICES)
    accepted(
      await keepWording(world.act("ilda"), {
        event,
        part,
        place: "mail",
        headline: "Hello {{you}}: {{what}}",
        body: wordedFields(event, part)
          .map((field) => `${field}={{${field}}}`)
          .join("\n"),
      }),
    );
  const own = await everyNotice();
  for (const { event, part } of NOTICES) {
    const mail = own.get(`${event} ${part}`);
    expect(mail?.subject).toMatch(/^Hello Wim Aldera: /);
    for (const field of wordedFields(event, part)) expect(mail?.body).toContain(`${field}=`);
    expect(mail?.body).not.toMatch(/\{\{|undefined|\[object/);
    if (wordedFields(event, part).includes("piece")) expect(mail?.body).toContain("piece=Words for everything");
  }
  await world.db.delete(wording);
}, 120_000);

const COMMENT = { event: "comment.made", part: "concerned" } as const;

test.each<[string, object, string]>([
  ["an unknown field", { body: "Hello\n{{titel}}" }, "fault"],
  ["an open brace", { headline: "{{what" }, "fault"],
  ["an open part", { body: "{{#note}}" }, "fault"],
  ["a field its notice has not", { event: "piece.released", part: "author", body: "{{note}}" }, "fault"],
  ["no notice", { part: "everybody" }, "not-found"],
  ["what every object has", { event: "constructor", part: "name" }, "not-found"],
])("words with %s are refused", async (_, change, code) => {
  const wanted = wordingInput.parse({ ...COMMENT, place: "mail", headline: "{{what}}", body: "", ...change });
  const done = await keepWording(world.act("ilda"), wanted);
  expect(codeOf(done)).toBe(code);
  if (!done.ok && code === "fault") expect(done.refusal.sentence).toMatch(/^Line \d+, column \d+: /);
  expect(codeOf(await tryWording(world.act("ilda"), await world.viewer("ilda"), { ...wanted, on: 0 }))).toBe(code);
});

test("an endless template is none", () => {
  const long = { ...COMMENT, place: "mail", headline: "{{what}}", body: "x".repeat(3_000) };
  expect(wordingInput.safeParse(long).success).toBe(false);
  expect(wordingInput.safeParse({ ...long, body: "", headline: " " }).success).toBe(false);
});

test("script in words arrives as words, by mail and in the application; the ready-made ones come back", async () => {
  const script = "<script>alert(1)</script> & {{note}}";
  for (const place of ["app", "mail"] as const)
    accepted(
      await keepWording(world.act("ilda"), { ...COMMENT, place, headline: "{{who}} said\n{{what}}", body: script }),
    );
  now += 20 * MINUTE;
  await world.db.delete(standInMail);
  accepted(await remark(world.act("wim", now), { pieceId, body: "<b>bold</b>" }));
  await leave();
  const [mail] = await world.db.select().from(standInMail);
  expect(mail?.body).toContain("<script>alert(1)</script> & <b>bold</b>");
  const [message] = await world.db
    .select()
    .from(outbox)
    .where(eq(outbox.personId, world.id("tobia")))
    .orderBy(desc(outbox.sentAt));
  const { html } = (await messageWords(world.db, message as never, "http://elenco.test", now)) ?? { html: "" };
  expect(html).toContain("&#60;script&#62;alert(1)&#60;/script&#62; &#38; &#60;b&#62;bold&#60;/b&#62;");
  expect(mail?.subject).toBe("Wim Aldera said Wim Aldera commented on “Words for everything”");
  const [told] = await listNotices(world.db, await world.viewer("tobia"));
  expect(told).toMatchObject({ note: "<script>alert(1)</script> & <b>bold</b>" });
  for (const place of ["app", "mail"] as const) accepted(await giveUpWording(world.act("ilda"), { ...COMMENT, place }));
  const [again] = await listNotices(world.db, await world.viewer("tobia"));
  expect(again).toMatchObject({ headline: "Wim Aldera commented on “Words for everything”", note: "<b>bold</b>" });
});

test("an editor tries its words on what really happened, and on what might where nothing has", async () => {
  const viewer = await world.viewer("ilda");
  const page = await wordingPage(world.db, viewer, COMMENT.event, COMMENT.part);
  expect(page?.occasions[0]?.values).toMatchObject({
    piece: "Words for everything",
    who: "Wim Aldera",
    note: "<b>bold</b>",
  });
  expect(page?.occasions.at(-1)?.seq).toBe(0);
  now += 20 * MINUTE;
  await world.db.delete(standInMail);
  const on = page?.occasions[0]?.seq ?? 0;
  const wanted = { ...COMMENT, ...READY_WORDING.mail, place: "mail" as const, on };
  accepted(await tryWording(world.act("ilda", now), viewer, wordingTest.parse(wanted)));
  await leave();
  const [mail] = await world.db.select().from(standInMail);
  expect(mail).toMatchObject({
    recipient: "ilda@fontelba.example",
    subject: "Trying: Wim Aldera commented on “Words for everything”",
  });
  expect(codeOf(await tryWording(world.act("ilda", now), viewer, { ...wanted, place: "chat" }))).toBe("no-channel");
  expect(codeOf(await keepWording(world.act("tobia"), { ...COMMENT, ...READY_WORDING.mail, place: "mail" }))).toBe(
    "not-granted",
  );
  const listed = await listWordings(world.db, viewer);
  expect(listed).toHaveLength(NOTICES.length);
  expect(await wordingPage(world.db, viewer, "piece.moved", "nobody")).toBeNull();
});

test("a channel hears of its section and what lies below it, of its topics alone, never of a draft nobody may see yet", async () => {
  const standIn = "http://elenco.test/standins/chat";
  const section = (await world.viewer("ilda")).places.sections.get(world.id("section bulletin"));
  const of = `section ${section?.id}`;
  const named = (address: string, who = "ilda") =>
    nameChannel(world.act(who), { of, address, topics: ["remarks"] }, true);
  expect(codeOf(await named("https://10.0.0.1/hook"))).toBe("address");
  expect(codeOf(await named(standIn, "tobia"))).toBe("not-granted");
  expect(
    codeOf(
      await nameChannel(
        world.act("ilda"),
        { of: `section ${world.id("wim")}`, address: standIn, topics: ["know"] },
        true,
      ),
    ),
  ).toBe("not-found");
  accepted(await named(standIn));
  const { id } = await begin(world, "Heard of");
  const draft = await begin(world, "Not yet", "tobia", MORNING, true);
  accepted(await remark(world.act("tobia", now), { pieceId: draft.id, body: "Only mine." }));
  accepted(await remark(world.act("wim", now), { pieceId: id, body: "Hello." }));
  const closed = await begin(world, "For few");
  await world.db.update(piece).set({ restricted: true }).where(eq(piece.id, closed.id));
  accepted(await remark(world.act("tobia", now), { pieceId: closed.id, body: "For few eyes." }));
  const rows = await world.db.select().from(outbox).where(eq(outbox.route, "chat"));
  const heard = rows.filter((row) => row.channelId !== null);
  expect(heard).toHaveLength(1);
  const words = await channelWords(world.db, heard[0]?.id ?? "", "http://elenco.test", now);
  expect(words.text).toMatch(/^“Heard of”: Wim Aldera commented\nhttp:\/\/elenco\.test\/pieces\/heard-of/);
  const [channel] = await world.db.select().from(chatChannel);
  accepted(await removeChannel(world.act("ilda"), { channelId: channel?.id ?? "" }));
  await leave();
  expect(await world.db.select().from(standInChat)).toEqual([]);
  expect(await world.db.select().from(chatChannel)).toEqual([]);
  const [left] = await world.db
    .select()
    .from(outbox)
    .where(eq(outbox.id, heard[0]?.id ?? ""));
  expect(left?.status).toBe("dropped");
});

test("what is urgent is told at once, though the rest goes once a day", async () => {
  await world.db.delete(standInMail);
  now += 20 * MINUTE;
  const wim = eq(person.id, world.id("wim"));
  const telling = { mail: { decide: "digest" as const }, chat: {}, digestAt: "08:00", quiet: null };
  await world.db.update(person).set({ telling }).where(wim);
  const calm = await begin(world, "Calm");
  const hot = await begin(world, "Hot");
  accepted(await send(world, calm.id, "tobia", "send", { now }));
  accepted(await send(world, hot.id, "tobia", "send", { now, urgency: "urgent" }));
  await leave();
  expect((await mails()).map((one) => one.subject)).toEqual([expect.stringContaining("“Hot” waits on you")]);
  await world.db.update(person).set({ telling: null }).where(wim);
});
