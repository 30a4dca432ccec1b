import http from "node:http";
import { eq } from "drizzle-orm";
import { feed, intakeFile, intakeItem, piece, task } from "#server/db/schema/index.ts";
import { filesOf } from "#server/files/queries.ts";
import { picture } from "#server/files/samples.ts";
import { dropFeed, listFeeds, lookAtFeed, nameFeed } from "#server/intake/feeds.ts";
import { intakeList, intakePage } from "#server/intake/queries.ts";
import { takeUp } from "#server/intake/triage.ts";
import { feedAt, inIntake } from "../support/intake.ts";
import { accepted, codeOf, DAY, HOUR, look, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
let site: Awaited<ReturnType<typeof serve>>;
beforeEach(async () => {
  world = await makeWorld();
  site = await serve();
});
afterEach(async () => {
  site.stop();
  await world.close();
});

type Answer = (request: http.IncomingMessage, response: http.ServerResponse) => void;

/** Somebody's feed, on loopback: answers as it is told. */
async function serve() {
  const asked: http.IncomingHttpHeaders[] = [];
  const state: { answer: Answer } = { answer: (_, response) => void response.end() };
  const server = http.createServer((request, response) => {
    asked.push(request.headers);
    state.answer(request, response);
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as { port: number };
  const stop = () => {
    server.closeAllConnections();
    server.close();
  };
  return { asked, state, base: `http://127.0.0.1:${port}`, stop };
}

const atom = (...ids: string[]) =>
  `<feed xmlns="http://www.w3.org/2005/Atom"><title>Snow</title>${ids
    .map(
      (id) =>
        `<entry><id>${id}</id><title>Entry ${id}</title><link href="https://snow.example/${id}"/><content>Words of ${id}.</content></entry>`,
    )
    .join("")}</feed>`;
const says =
  (body: string, headers: Record<string, string> = {}, status = 200): Answer =>
  (_, response) =>
    void response.writeHead(status, headers).end(body);

async function named(more: object = {}) {
  const act = { ...world.act("ilda"), baseUrl: site.base };
  accepted(await nameFeed(act, feedAt(`${site.base}/standins/feed.atom`, more)));
  const [row] = await world.db.select().from(feed);
  return row?.id ?? "";
}
const lookAt = (id: string, now = MORNING, standIns = true) =>
  lookAtFeed({ ...world.act(null, now), baseUrl: site.base }, id, standIns);
const titles = async (who = "ilda") =>
  (
    await intakeList(world.db, await world.viewer(who), { show: "open", sort: "material", mine: false, words: "" })
  ).rows.map((row) => row.title);
const row = async () => (await world.db.select().from(feed))[0];

test("what a feed brings comes in once, is asked for anew only where it changed, and waits to be taken or left", async () => {
  const id = await named();
  expect(await world.db.select().from(task).where(eq(task.kind, "feed"))).toHaveLength(1);
  site.state.answer = says(atom("a", "b"), { ETag: '"1"', "Last-Modified": "Tue, 24 Nov 2026 07:00:00 GMT" });
  expect(await lookAt(id)).toBe(MORNING + HOUR);
  expect((await titles()).sort()).toEqual(["Entry a", "Entry b"]);
  site.state.answer = says("", {}, 304);
  await lookAt(id, MORNING + HOUR);
  expect(site.asked[1]).toMatchObject({
    "if-none-match": '"1"',
    "if-modified-since": "Tue, 24 Nov 2026 07:00:00 GMT",
  });
  site.state.answer = says(atom("c", "b", "a"), { ETag: '"2"' });
  await lookAt(id, MORNING + 2 * HOUR);
  expect(await titles()).toHaveLength(3);
  expect((await listFeeds(world.db))[0]).toMatchObject({ brought: 3, problem: null, checkedAt: MORNING + 2 * HOUR });
});

test("two nodes that look at once take each entry in once", async () => {
  const id = await named();
  site.state.answer = says(atom("a", "b", "c"));
  await Promise.all([lookAt(id), lookAt(id), lookAt(id)]);
  expect(await titles()).toHaveLength(3);
});

test("it becomes a draft with its words, and its source in the brief; what nobody took goes after its time", async () => {
  const id = await named({ keepDays: 7 });
  site.state.answer = says(atom("a", "b"));
  await lookAt(id);
  const [first] = await world.db.select().from(intakeItem).where(eq(intakeItem.title, "Entry a"));
  const shown = await intakePage(world.db, await world.viewer("ilda"), first?.id ?? "");
  expect(shown).toMatchObject({ brief: "Source: https://snow.example/a", answered: [], from: "Snow" });
  const { slug } = accepted(
    await takeUp(world.act("ilda"), {
      ...(await inIntake(world, first?.id ?? "")),
      title: "Snow today",
      kindId: world.id("kind bulletin-item"),
      sectionId: world.id("section bulletin"),
      writerId: null,
      brief: "Source: https://snow.example/a",
      publishAt: null,
    }),
  );
  const [made] = await world.db.select().from(piece).where(eq(piece.slug, slug));
  expect(JSON.stringify((await look(world, made?.id ?? "")).version.content)).toContain("Words of a.");
  site.state.answer = says("", {}, 304);
  await lookAt(id, MORNING + 8 * DAY);
  expect(await world.db.select().from(intakeItem)).toMatchObject([{ title: "Entry a", standing: "taken" }]);
});

test("its pictures are files with their source as credit, to be confirmed; what is none, or lies within the house, is left out", async () => {
  const id = await named();
  const snow = await picture("#ffffff");
  const html = `<p>Look:</p><img src="${site.base}/standins/snow.jpg" alt="Snow"><img src="${site.base}/standins/words.jpg"><img src="http://127.0.0.1:1/x.jpg"><img src="/y.jpg">`;
  site.state.answer = ({ url }, response) => {
    if (url?.endsWith("snow.jpg")) return void response.end(snow);
    if (url?.endsWith(".jpg")) return void response.end("no picture at all");
    response.end(
      `<rss><channel><title>Snow</title><item><guid>a</guid><title>Entry a</title><description><![CDATA[${html}]]></description></item></channel></rss>`,
    );
  };
  await lookAt(id);
  const [item] = await world.db.select().from(intakeItem);
  expect(await world.db.select().from(intakeFile)).toMatchObject([{ itemId: item?.id, name: "snow.jpg" }]);
  const { slug } = accepted(
    await takeUp(world.act("ilda"), {
      ...(await inIntake(world, item?.id ?? "")),
      title: "Snow today",
      kindId: world.id("kind bulletin-item"),
      sectionId: world.id("section bulletin"),
      writerId: null,
      brief: "",
      publishAt: null,
    }),
  );
  const [made] = await world.db.select().from(piece).where(eq(piece.slug, slug));
  const [file] = await filesOf(world.db, made?.id ?? "");
  expect(file).toMatchObject({ name: "snow.jpg", credit: "Snow", licence: "" });
  expect(JSON.stringify((await look(world, made?.id ?? "")).version.content)).toContain(`"file":"${file?.id}"`);
});

test("of many pictures at once all that are fetched are kept", async () => {
  const id = await named();
  const colours = ["#100000", "#200000", "#300000", "#400000", "#500000", "#600000", "#700000", "#800000", "#900000"];
  const drawn = await Promise.all(colours.map((colour) => picture(colour, { width: 40, height: 30 })));
  const items = [0, 1, 2].map((entry) => {
    const shown = [0, 1, 2].map((i) => `<img src="${site.base}/standins/p${entry * 3 + i}.jpg">`).join("");
    return `<item><guid>${entry}</guid><title>Entry ${entry}</title><description><![CDATA[${shown}]]></description></item>`;
  });
  site.state.answer = ({ url }, response) => {
    const at = /p(\d)\.jpg$/.exec(url ?? "")?.[1];
    if (at !== undefined) return void response.end(drawn[Number(at)]);
    response.end(`<rss><channel><title>Snow</title>${items.join("")}</channel></rss>`);
  };
  await lookAt(id);
  expect(await world.db.select().from(intakeFile)).toHaveLength(9);
});

test("an entry without a date that nobody took does not come in again while the feed shows it", async () => {
  const id = await named({ keepDays: 7 });
  site.state.answer = says(atom("a"));
  await lookAt(id);
  await lookAt(id, MORNING + 8 * DAY);
  await lookAt(id, MORNING + 9 * DAY);
  expect(await world.db.select().from(intakeItem)).toEqual([]);
});

test.each<[string, Answer, RegExp]>([
  ["answers with an error", says("no", {}, 503), /answered 503/],
  ["is no feed", says("<html/>"), /no feed/],
  ["is too large", (_, response) => void response.writeHead(200).end(Buffer.alloc(2_500_000, "x")), /larger than 2 MB/],
  ["leads into the house", says("", { Location: "http://10.0.0.1/feed" }, 302), /begins with https/],
  ["leads to a private name", says("", { Location: "https://localhost/feed" }, 302), /within this house/],
])("a feed that %s is waited with longer each time, and says why", async (_, answer, problem) => {
  const id = await named();
  site.state.answer = answer;
  const rests: number[] = [];
  let now = MORNING;
  for (let i = 0; i < 6; i++) {
    const next = (await lookAt(id, now)) ?? 0;
    rests.push((next - now) / HOUR);
    now = next;
  }
  expect(rests).toEqual([1, 2, 4, 8, 16, 24]);
  expect((await row())?.problem).toMatch(problem);
  site.state.answer = says(atom("a"));
  expect(await lookAt(id, now)).toBe(now + HOUR);
  expect(await row()).toMatchObject({ failures: 0, problem: null });
});

test("a feed that never ends is given up in time", async () => {
  const id = await named();
  site.state.answer = (_, response) => {
    response.writeHead(200);
    const drip = setInterval(() => response.write(" "), 200);
    response.on("close", () => clearInterval(drip));
  };
  await lookAt(id);
  expect((await row())?.problem).toMatch(/did not answer in time|aborted/);
}, 30_000);

test("no feed within the house is named, none twice; without stand-ins theirs is none", async () => {
  for (const url of ["http://snow.example/x", "https://127.0.0.1/x", "file:///etc/passwd", "https://[::1]/x"])
    expect([url, codeOf(await nameFeed(world.act("ilda"), feedAt(url)))]).toEqual([url, "address"]);
  const amiss = async (more: object) =>
    codeOf(await nameFeed(world.act("ilda"), { ...feedAt("https://snow.example/feed"), ...more }));
  expect(await amiss({ kindId: world.id("ilda") })).toBe("unknown-kind");
  expect(await amiss({ sectionId: world.id("ilda") })).toBe("unknown-section");
  expect(await amiss({ holderId: world.id("section bulletin") })).toBe("unknown-person");
  const id = await named();
  expect(
    codeOf(await nameFeed({ ...world.act("ilda"), baseUrl: site.base }, feedAt(`${site.base}/standins/feed.atom`))),
  ).toBe("taken");
  await lookAt(id, MORNING, false);
  expect((await row())?.problem).toMatch(/begins with https/);
  expect(site.asked).toEqual([]);
  accepted(await dropFeed(world.act("ilda"), { feedId: id }));
  expect(await lookAt(id)).toBeNull();
});
