import type http from "node:http";
import { eq } from "drizzle-orm";
import { ANSWER_BYTES } from "#core/assist/answer.ts";
import type { Errand } from "#core/assist/errand.ts";
import { askAssistant, leaveErrand, remarkOnPoint, takeErrand } from "#server/assist/commands.ts";
import { runErrand } from "#server/assist/errand.ts";
import { assistPage } from "#server/assist/queries.ts";
import { assistantSecret, nameAssistant } from "#server/assist/service.ts";
import { assistantErrand, comment, thread, version } from "#server/db/schema/index.ts";
import { signed } from "#server/people/secrets.ts";
import { piecePage } from "#server/pieces/page.ts";
import { answerAsTold, MOOD_KEYS, setMood } from "#server/standins/assistant.ts";
import { outside } from "../support/outside.ts";
import { accepted, begin, codeOf, heard, look, MORNING, makeWorld, save, send, type World } from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const named = (more: object = {}, revision = 0) =>
  nameAssistant(world.act("ilda"), {
    name: "Quillmoor",
    url: "/standins/assistant",
    on: true,
    everywhere: true,
    sections: [],
    revision,
    ...more,
  });

/** Where the assistant answers, as it is told. */
type Says = number | ((response: http.ServerResponse) => void);
const json =
  (answer: unknown): Says =>
  (response) =>
    void response.writeHead(200, { "Content-Type": "application/json" }).end(JSON.stringify(answer));

async function asked(errand: Errand = "draft", who = "tobia", pieceId?: string) {
  const id = pieceId ?? (await begin(world, "The stove draws again")).id;
  const { slug } = (await look(world, id)).piece;
  const page = await assistPage(world.db, await world.viewer(who), slug, null);
  const result = await askAssistant(world.act(who), {
    pieceId: id,
    errand,
    note: "Be short.",
    shown: page?.shown ?? "",
  });
  const rows = await world.db.select().from(assistantErrand).where(eq(assistantErrand.pieceId, id));
  return { result, pieceId: id, slug, row: rows.at(-1), shown: page?.shown ?? "" };
}

/** Sends the assistant for what was asked, to an outside that answers so. */
async function sent(id: string, answers: Says[], now = MORNING, patience?: number) {
  const there = await outside(answers);
  const again = await runErrand({ ...world.act(null, now), baseUrl: there.base }, id, true, patience);
  there.stop();
  return { again, heard: there.heard };
}
const stands = async (id: string) =>
  (await world.db.select().from(assistantErrand).where(eq(assistantErrand.id, id)))[0];

test("what was shown is sent, signed; what comes back waits, and is the text once somebody takes it", async () => {
  accepted(await named());
  const { pieceId, row, slug } = await asked();
  const id = row?.id ?? "";
  const { heard: got, again } = await sent(id, [
    json({ text: "The stove *draws*.", reasons: ["Short."], cost: "0.02 EUR" }),
  ]);
  expect(again).toBeNull();
  const [{ body, headers } = { body: "", headers: {} as http.IncomingHttpHeaders }] = got;
  expect(JSON.parse(body)).toEqual({
    id,
    errand: "draft",
    note: "Be short.",
    piece: expect.objectContaining({ title: "The stove draws again", brief: "" }),
  });
  expect(headers["elenco-signature"]).toBe(signed(assistantSecret(), String(headers["elenco-timestamp"]), body));
  const before = await look(world, pieceId);
  expect(JSON.stringify(before.version.content)).not.toContain("draws.");
  const [told] = await heard(world, "tobia");
  expect(told?.headline).toBe("Quillmoor brought a first draft for “The stove draws again”");
  const page = await piecePage(world.db, await world.viewer("tobia"), slug);
  expect(page?.assisted).toMatchObject({ open: true, waits: [{ errand: "draft" }], taken: [] });

  const wanted = { pieceId, errandId: id, base: before.version.hash, field: "" };
  const { version: number } = accepted(await takeErrand(world.act("tobia"), wanted));
  const after = await look(world, pieceId);
  expect(JSON.stringify(after.version.content)).toContain("draws");
  expect([after.version.number, after.version.name]).toEqual([number, "a first draft of Quillmoor"]);
  expect(after.piece.stateKey).toBe(before.piece.stateKey);
  expect(codeOf(await takeErrand(world.act("tobia"), wanted))).toBe("settled");
  expect((await piecePage(world.db, await world.viewer("tobia"), slug))?.assisted.taken).toHaveLength(1);
});

test("asked once at a time, with what was looked at and nothing newer", async () => {
  accepted(await named());
  const { pieceId, shown } = await asked();
  const wanted = { pieceId, errand: "draft" as const, note: "", shown };
  expect(codeOf(await askAssistant(world.act("tobia"), wanted))).toBe("asked");
  accepted(await save(world, pieceId, "tobia", "Other words."));
  expect(codeOf(await askAssistant(world.act("tobia"), wanted))).toBe("stale");
});

test("what it brought is not taken over a text that changed since, nor once the piece went on; keywords want a field", async () => {
  accepted(await named());
  const { pieceId, row } = await asked();
  await sent(row?.id ?? "", [json({ text: "The stove draws." })]);
  const base = (await look(world, pieceId)).version.hash;
  accepted(await save(world, pieceId, "tobia", "Words of my own."));
  const wanted = { pieceId, errandId: row?.id ?? "", base, field: "" };
  expect(codeOf(await takeErrand(world.act("tobia"), wanted))).toBe("stale");
  accepted(await send(world, pieceId, "tobia", "send", { reviewers: ["petra"] }));
  const now = (await look(world, pieceId)).version.hash;
  expect(codeOf(await takeErrand(world.act("tobia"), { ...wanted, base: now }))).toBe("not-writing");
  expect(codeOf((await asked("check", "tobia", pieceId)).result)).toBe("not-writing");

  const words = await asked("keywords");
  await sent(words.row?.id ?? "", [json({ words: ["stove", "kindling"] })]);
  const hash = (await look(world, words.pieceId)).version.hash;
  const into = { pieceId: words.pieceId, errandId: words.row?.id ?? "", base: hash };
  expect(codeOf(await takeErrand(world.act("tobia"), { ...into, field: "nowhere" }))).toBe("no-field");
});

test("a point becomes a remark of whoever makes it one, on the words it quotes, and calls nobody", async () => {
  accepted(await named());
  const { id: pieceId } = await begin(world, "The stove draws again");
  accepted(await save(world, pieceId, "tobia", "The stove draws. Bring kindling."));
  const { row } = await asked("check", "tobia", pieceId);
  await sent(row?.id ?? "", [
    json({ points: [{ quote: "Bring kindling", says: "@ilda: whose?" }, { says: "Too short." }] }),
  ]);
  const on = { pieceId, errandId: row?.id ?? "" };
  accepted(await remarkOnPoint(world.act("tobia"), { ...on, point: 0 }));
  accepted(await remarkOnPoint(world.act("tobia"), { ...on, point: 1 }));
  expect(codeOf(await remarkOnPoint(world.act("tobia"), { ...on, point: 2 }))).toBe("not-found");
  const threads = await world.db.select().from(thread).where(eq(thread.pieceId, pieceId));
  expect(threads.map((one) => one.madeOn)).toEqual(["Bring kindling", null]);
  const [first] = await world.db
    .select()
    .from(comment)
    .where(eq(comment.threadId, threads[0]?.id ?? ""));
  expect(first?.body).toBe("ilda: whose? (Quillmoor)");
  expect((await heard(world, "ilda", pieceId)).filter((one) => one.headline.includes("mention"))).toEqual([]);
  accepted(await leaveErrand(world.act("tobia"), { ...on, reason: "" }));
  expect(await stands(on.errandId)).toMatchObject({ standing: "left" });
});

test("busy is asked again twice, then given up; what turns away, raves or is too much is given up at once; whoever asked is told", async () => {
  accepted(await named());
  const first = (await asked()).row?.id ?? "";
  expect((await sent(first, [503])).again).toBe(MORNING + 30_000);
  expect(await stands(first)).toMatchObject({ standing: "waiting", problem: "It answered 503." });
  expect((await sent(first, [429])).again).toBe(MORNING + 120_000);
  expect((await sent(first, [500])).again).toBeNull();
  expect(await stands(first)).toMatchObject({ standing: "failed", attempts: 3, problem: "It answered 500." });
  const [told] = await heard(world, "tobia");
  expect(told).toEqual({
    headline: "Quillmoor was asked for a first draft for “The stove draws again” in vain",
    note: "It answered 500.",
  });
  const answers: [Says, string][] = [
    [400, "It answered 400."],
    [302, "It answered 302."],
    [json("<p>"), "It answered nothing one could use."],
    [(response) => void response.end("x".repeat(ANSWER_BYTES + 1)), "It answered more than fits."],
  ];
  for (const [answer, problem] of answers) {
    const { row } = await asked();
    await sent(row?.id ?? "", [answer]);
    expect(await stands(row?.id ?? "")).toMatchObject({ standing: "failed", problem });
  }
});

test("an assistant that does not answer, or breaks off, is not waited for for ever", async () => {
  accepted(await named());
  const silent = (await asked()).row?.id ?? "";
  expect((await sent(silent, [() => undefined], MORNING, 200)).again).toBe(MORNING + 30_000);
  expect(await stands(silent)).toMatchObject({ problem: "It did not answer in time." });
  const dripping = (await asked()).row?.id ?? "";
  await sent(dripping, [(response) => void response.writeHead(200).write('{"text": "Half of i')], MORNING, 200);
  expect(await stands(dripping)).toMatchObject({ standing: "waiting", problem: "It did not answer in time." });
});

test("it is asked where it is switched on alone, and an address within the house is no assistant's", async () => {
  expect(codeOf((await asked()).result)).toBe("no-assistant");
  expect(codeOf(await named({ url: "http://127.0.0.1:80/" }))).toBe("address");
  expect(codeOf(await named({ everywhere: false }))).toBe("nowhere");
  expect(codeOf(await named({ everywhere: false, sections: ["0".repeat(8)] }))).toBe("unknown-section");
  accepted(await named({ everywhere: false, sections: [world.id("section huts")] }));
  expect(codeOf(await named({}, 0))).toBe("stale");
  expect(codeOf((await asked()).result)).toBe("not-here");
  accepted(await named({ on: false }, 1));
  expect(codeOf((await asked()).result)).toBe("no-assistant");
});

test("who may not see a piece sees nothing of what was asked for it", async () => {
  accepted(await named());
  const { slug } = await asked();
  expect(await assistPage(world.db, await world.viewer("noor"), slug, null)).toBeNull();
});

test("the stand-in answers as it is told, and whatever it answers no piece moves", async () => {
  accepted(await named());
  for (const mood of MOOD_KEYS.filter((one) => one !== "slow" && one !== "silent")) {
    await setMood(world.db, mood);
    const { row, pieceId } = await asked("outline");
    const answer = await answerAsTold(world.db, row?.body ?? "", new AbortController().signal);
    const body = await answer.text();
    await sent(row?.id ?? "", [(response) => void response.writeHead(answer.status).end(body)]);
    const { standing, brought } = (await stands(row?.id ?? "")) ?? {};
    expect([mood, standing]).toEqual([
      mood,
      { willing: "brought", scheming: "brought", failing: "waiting" }[mood as string] ?? "failed",
    ]);
    expect(JSON.stringify(brought ?? null)).not.toMatch(/javascript|alert\(\\?"/);
    const { piece: after, version: last } = await look(world, pieceId);
    expect([after.stateKey, last.number]).toEqual(["draft", 1]);
  }
  expect(await world.db.select().from(version)).not.toHaveLength(0);
});
