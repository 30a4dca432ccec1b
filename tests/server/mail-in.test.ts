import { createTransport } from "nodemailer";
import { intakeFile, intakeItem, piece } from "#server/db/schema/index.ts";
import { picture } from "#server/files/samples.ts";
import { type MailIn, startMailIn, takeMail } from "#server/intake/mail.ts";
import { intakeList, intakePage } from "#server/intake/queries.ts";
import { takeUp } from "#server/intake/triage.ts";
import { inIntake } from "../support/intake.ts";
import { accepted, codeOf, look, makeWorld, type World } from "../support/world.ts";

let world: World;
let mailIn: MailIn;
beforeEach(async () => {
  world = await makeWorld();
  mailIn = await startMailIn(async () => world.act(null), "127.0.0.1", 0);
});
afterEach(async () => {
  await mailIn.stop();
  await world.close();
});

const send = (mail: object) =>
  createTransport({ host: "127.0.0.1", port: mailIn.port, secure: false, ignoreTLS: true }).sendMail({
    from: '"Berta of the hut" <berta@huts.example>',
    to: "intake@fontelba.example",
    subject: "The spring is dry",
    text: "Since Sunday.\n\nWe carry water up.",
    ...mail,
  });
const items = () => world.db.select().from(intakeItem);
const seen = async (who: string) =>
  (await intakeList(world.db, await world.viewer(who), { show: "open", sort: null, mine: false, words: "" })).rows;

test("a mail comes in once, its words cleaned, its sender as it says; it is seen by who judges, and begins a piece", async () => {
  for (let i = 0; i < 2; i++)
    await send({
      messageId: "<one@huts.example>",
      html: "<p>Since <b>Sunday</b>.</p><script>alert(1)</script>",
      attachments: [
        { filename: "spring.txt", content: "Where it stood." },
        { filename: "invoice.pdf.exe", content: Buffer.from("MZ a program") },
      ],
    });
  const [row] = await items();
  expect(await items()).toMatchObject([
    { sort: "material", standing: "waiting", title: "The spring is dry", words: "Since Sunday." },
  ]);
  expect(row?.sender).toBe("Berta of the hut <berta@huts.example>");
  expect(JSON.stringify(row?.content)).not.toContain("alert");
  expect((await seen("ilda")).map((one) => one.from)).toEqual(["Berta of the hut <berta@huts.example>"]);
  expect(await seen("noor")).toEqual([]);
  expect(await world.db.select().from(intakeFile)).toMatchObject([{ name: "spring.txt" }]);
  const shown = await intakePage(world.db, await world.viewer("ilda"), row?.id ?? "");
  expect(shown?.brief).toBe("By mail, said to be from Berta of the hut <berta@huts.example>");
  const { slug } = accepted(
    await takeUp(world.act("ilda"), {
      ...(await inIntake(world, row?.id ?? "")),
      title: "A dry spring",
      kindId: world.id("kind bulletin-item"),
      sectionId: world.id("section bulletin"),
      writerId: null,
      brief: "",
      publishAt: null,
    }),
  );
  const made = (await world.db.select().from(piece)).find((one) => one.slug === slug);
  expect(JSON.stringify((await look(world, made?.id ?? "")).version.content)).toContain("Sunday");
});

test("a picture within a mail's words stands in them, and is a file of whoever it is said to be from", async () => {
  await send({
    html: '<p>Look:</p><img src="cid:dry@hut" alt="The spring"><img src="cid:other"><img src="https://track.example/p.gif">',
    attachments: [{ filename: "spring.jpg", content: await picture("#335577"), cid: "dry@hut" }],
  });
  const [row] = await items();
  const [kept] = await world.db.select().from(intakeFile);
  const images = row?.content?.fields.body as { content: { type: string; attrs?: object }[] };
  expect(images.content.filter((one) => one.type === "image")).toMatchObject([
    { attrs: { file: kept?.fileId, alt: "The spring" } },
  ]);
});

test("a mail to the ideas is one, whoever it says it is from; nobody of the team is taken at their word", async () => {
  await send({ to: "ideas@fontelba.example", from: "ilda@fontelba.example", subject: "Walk the springs" });
  expect(await items()).toMatchObject([
    { sort: "idea", title: "Walk the springs", byId: null, words: "Since Sunday.\nWe carry water up." },
  ]);
  expect((await seen("noor")).map((one) => one.title)).toEqual(["Walk the springs"]);
});

test("other mailboxes are none, and what is too large is not taken", async () => {
  await expect(send({ to: "ilda@fontelba.example" })).rejects.toThrow(/no such mailbox/);
  await expect(send({ text: "x".repeat(9_000_000) })).rejects.toThrow(/552|exceeds|larger/i);
  expect(await items()).toEqual([]);
});

const nested = (depth: number): string =>
  depth === 0
    ? "Content-Type: text/plain\r\n\r\nAt the bottom.\r\n"
    : `Content-Type: multipart/mixed; boundary="b${depth}"\r\n\r\n--b${depth}\r\n${nested(depth - 1)}--b${depth}--\r\n`;

test.each<[string, string, string]>([
  ["of forty nested parts", `Subject: Deep\r\n${nested(40)}`, "Deep"],
  ["without a head", "just words", "Without a subject"],
  ["of no bytes", "", "Without a subject"],
  ["with a subject over lines", "Subject: Over\r\n two lines\r\n\r\nx", "Over two lines"],
  [
    "with script in its name",
    'From: "<script>" <x@y.example>\r\nSubject: <script>alert(1)</script>\r\n\r\nx',
    "<script>alert(1)</script>",
  ],
])("a mail %s is taken", async (_, source, title) => {
  accepted(await takeMail(world.act(null), Buffer.from(source), { to: "intake@x.example", from: "192.0.2.9" }));
  expect(await items()).toMatchObject([{ title }]);
});

test("nested without end it is not read, and of many from one place no more are taken than may be", async () => {
  const deep = await takeMail(world.act(null), Buffer.from(`Subject: x\r\n${nested(300)}`), {
    to: "intake@x",
    from: "a",
  });
  expect(codeOf(deep)).toBe("unreadable");
  const codes: string[] = [];
  for (let i = 0; i < 125; i++)
    codes.push(
      codeOf(await takeMail(world.act(null), Buffer.from(`Subject: ${i}\r\n\r\n${i}`), { to: "intake@x", from: "b" })),
    );
  expect(codes.filter((one) => one === "accepted")).toHaveLength(120);
  expect(codes.at(-1)).toBe("rate-limited");
});
