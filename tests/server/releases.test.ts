import { and, eq, inArray } from "drizzle-orm";
import { XMLParser, XMLValidator } from "fast-xml-parser";
import { accept } from "#core/refusal.ts";
import { accessGrant, ledger, notice, piece, release } from "#server/db/schema/index.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { atomFeed, FEED_ITEMS, jsonFeed, placeIn } from "#server/reader/feeds.ts";
import { listReleased, readReleased } from "#server/reader/queries.ts";
import { cancelRelease, planRelease } from "#server/release/commands.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  codeOf,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const AT = MORNING + 5 * HOUR;

async function plan(id: string, who = "ilda", at = AT) {
  return planRelease(world.act(who), { pieceId: id, revision: (await look(world, id)).piece.revision, at });
}

const job = async (id: string, now = AT) => {
  const became = await carryOut(world.act(null, now), [id]);
  return became.ok ? accept(became.value.get(id)) : became;
};

test("what was planned leaves at its time, not before, and exactly once", async () => {
  const id = await approved(world);
  const planned = accepted(await plan(id));
  expect(accepted(await job(planned.id, AT - 1))).toBe("gone");
  expect(await listReleased(world.db)).toHaveLength(0);
  const answers = await Promise.all([job(planned.id), job(planned.id), job(planned.id)]);
  expect(answers.map(accepted).sort()).toEqual(["done", "gone", "gone"]);
  expect((await listReleased(world.db)).map((one) => one.content.title)).toEqual(["Winter room keys"]);
  const told = (await heard(world, "tobia", id)).filter((one) => one.headline.endsWith("is live"));
  expect(told).toHaveLength(1);
});

test("those due at one time leave together; one that may not is held alone, and each is told of apart", async () => {
  const ids = [await approved(world), await approved(world), await approved(world)] as const;
  const plans = [];
  for (const id of ids) plans.push(accepted(await plan(id)).id);
  await save(world, ids[1], "ilda", "Other words.");
  const became = accepted(await carryOut(world.act(null, AT), [...plans, "gone before"]));
  expect([...became.values()]).toEqual(["done", "held", "done", "gone"]);
  expect((await listReleased(world.db)).map((one) => one.id).sort()).toEqual([ids[0], ids[2]].sort());
  for (const [i, words] of [/is live$/, /is held$/, /is live$/].entries()) {
    const told = await heard(world, "tobia", ids[i] ?? "");
    expect(told.filter((one) => words.test(one.headline))).toHaveLength(1);
  }
  expect(await verifyLedger(world.db)).toMatchObject({ broken: null });
});

describe("a release is held, with its reason, and its owners are told", () => {
  const cases: [string, string, (id: string) => Promise<unknown>][] = [
    ["the text was changed after it was approved", "text-changed", (id) => save(world, id, "ilda", "Other words.")],
    [
      "the piece was taken back",
      "not-ready",
      (id) => world.db.update(piece).set({ stateKey: "draft", stateKind: "writing" }).where(eq(piece.id, id)),
    ],
    ["it was deleted", "deleted", (id) => world.db.update(piece).set({ deletedAt: MORNING }).where(eq(piece.id, id))],
    ["its fields are no longer complete", "fields", (id) => save(world, id, "ilda", "")],
    [
      "whoever planned it may no longer release",
      "not-granted",
      () =>
        world.db
          .update(accessGrant)
          .set({ until: MORNING })
          .where(eq(accessGrant.personId, world.id("ilda"))),
    ],
  ];
  test.each(cases)("%s", async (_, code, happens) => {
    const id = await approved(world);
    const planned = accepted(await plan(id));
    await happens(id);
    expect(accepted(await job(planned.id))).toBe("held");
    const [row] = await world.db.select().from(release).where(eq(release.id, planned.id));
    expect(row).toMatchObject({ status: "held" });
    expect(row?.holds.map((hold) => hold.code)).toContain(code);
    expect(await listReleased(world.db)).toHaveLength(0);
    const held = await world.db
      .select({ who: notice.personId })
      .from(notice)
      .innerJoin(ledger, eq(ledger.seq, notice.seq))
      .where(and(eq(notice.pieceId, id), eq(ledger.action, "release.held")));
    expect(held.map((one) => one.who).sort()).toEqual([world.id("ilda"), world.id("tobia")].sort());
    expect(accepted(await job(planned.id))).toBe("gone");
  });
});

test("a held release is planned anew once the piece is approved again, and leaves with the new text", async () => {
  const id = await approved(world);
  const planned = accepted(await plan(id));
  accepted(await save(world, id, "ilda", "Other words."));
  accepted(await job(planned.id));
  await world.db
    .update(piece)
    .set({ approvedVersionId: (await look(world, id)).version.id })
    .where(eq(piece.id, id));
  const again = accepted(await plan(id, "ilda", AT + HOUR));
  expect(again.id).toBe(planned.id);
  expect(accepted(await job(again.id, AT + HOUR))).toBe("done");
});

test("revising a live piece leaves the released version up until the new one is released", async () => {
  const id = await approved(world);
  accepted(await job(accepted(await plan(id)).id));
  const { slug } = (await look(world, id)).piece;
  accepted(await send(world, id, "tobia", "revise", { now: AT + 1 }));
  accepted(await save(world, id, "tobia", "Newer words.", undefined, AT + 2));
  const text = async () => JSON.stringify((await readReleased(world.db, slug))?.content.fields);
  expect(await text()).toContain("bus office");
  accepted(await send(world, id, "tobia", "send", { now: AT + 3 }));
  await approve(world, id, "wim", AT + 4);
  expect(await text()).toContain("bus office");
  accepted(await send(world, id, "ilda", "release", { now: AT + 5 }));
  expect(await text()).toContain("Newer words");
  const live = await readReleased(world.db, slug);
  expect([live?.firstLiveAt, live?.liveAt]).toEqual([AT, AT + 5]);
});

test("releasing by hand goes through the same look, and closes the plan", async () => {
  const id = await approved(world);
  accepted(await plan(id));
  accepted(await save(world, id, "ilda", "Unapproved."));
  expect(codeOf(await send(world, id, "ilda", "release"))).toBe("text-changed");
  await world.db
    .update(piece)
    .set({ approvedVersionId: (await look(world, id)).version.id })
    .where(eq(piece.id, id));
  accepted(await send(world, id, "ilda", "release"));
  const [row] = await world.db.select().from(release).where(eq(release.pieceId, id));
  expect(row?.status).toBe("cancelled");
});

test("who may not plan, a time that has passed, a piece that is not ready, taking back", async () => {
  const id = await approved(world);
  expect(codeOf(await plan(id, "tobia"))).toBe("not-granted");
  expect(codeOf(await plan(id, "ilda", MORNING))).toBe("past");
  expect(codeOf(await plan((await begin(world)).id))).toBe("not-ready");
  accepted(await plan(id));
  const { revision } = (await look(world, id)).piece;
  expect(codeOf(await cancelRelease(world.act("ilda"), { pieceId: id, revision: revision - 1 }))).toBe("stale");
  accepted(await cancelRelease(world.act("ilda"), { pieceId: id, revision }));
  const open = await world.db
    .select()
    .from(release)
    .where(inArray(release.status, ["planned", "held"]));
  expect(open).toHaveLength(0);
});

test("a feed is valid whatever was typed, says titles as text, and leads page by page to the oldest piece", async () => {
  const titles = Array.from({ length: FEED_ITEMS + 2 }, (_, i) => `Hut ${i}: <b>a & "b"</b> \u0007\u{1F3D4}\u200B]]>`);
  for (const title of titles) {
    const id = await approved(world, title);
    accepted(await job(accepted(await plan(id)).id));
  }
  const found: string[] = [];
  let pages = 0;
  for (let after: ReturnType<typeof placeIn>; ; ) {
    const xml = await atomFeed(world.db, "http://elenco.test", after ?? undefined);
    expect(XMLValidator.validate(xml)).toBe(true);
    expect([...xml].filter((one) => one < " " && !"\t\n\r".includes(one))).toEqual([]);
    const { feed } = new XMLParser({ ignoreAttributes: false, htmlEntities: true }).parse(xml);
    const entries = [feed.entry].flat();
    for (const { title, content } of entries) {
      expect([title["@_type"], content["@_type"]]).toEqual(["text", "html"]);
      found.push(title["#text"]);
    }
    const next = [feed.link].flat().find((link) => link["@_rel"] === "next")?.["@_href"];
    const json = await jsonFeed(world.db, "http://elenco.test", after ?? undefined);
    expect(json).toMatchObject({ items: entries.map(({ title }) => ({ title: title["#text"] })) });
    pages += 1;
    if (!next) break;
    after = placeIn(new URL(next).searchParams.get("after"));
    expect(after).toBeTruthy();
  }
  expect(pages).toBe(2);
  expect(found.filter((title) => title.startsWith("Hut")).sort()).toEqual(
    titles.map((title) => title.replace("\u0007", "")).sort(),
  );
  for (const none of [
    "",
    "x",
    "1_2",
    "9e99_01a217fc-7861-705b-887b-c14018570bf6",
    "8640000000000000_01a217fc-7861-705b-887b-c14018570bf6",
  ])
    expect(placeIn(none)).toBeNull();
});

test("the feeds hold what is released and nothing else", async () => {
  const id = await approved(world);
  await begin(world, "A draft & nothing more");
  accepted(await job(accepted(await plan(id)).id));
  const { feed } = new XMLParser({ ignoreAttributes: false }).parse(await atomFeed(world.db, "http://elenco.test"));
  expect(feed["@_xmlns"]).toBe("http://www.w3.org/2005/Atom");
  for (const required of ["id", "title", "updated", "author"]) expect(feed).toHaveProperty(required);
  for (const required of ["id", "title", "updated", "content"]) expect(feed.entry).toHaveProperty(required);
  expect(feed.entry.title["#text"] ?? feed.entry.title).toBe("Winter room keys");
  expect(feed.updated).toBe(new Date(AT).toISOString());
  const json = await jsonFeed(world.db, "http://elenco.test");
  expect(json).toMatchObject({
    version: "https://jsonfeed.org/version/1.1",
    feed_url: "http://elenco.test/read/feed.json",
    items: [
      {
        title: "Winter room keys",
        content_html: "<p>The keys hang at the bus office.</p>",
        authors: [{ name: "Tobia Rensk" }],
      },
    ],
  });
});
