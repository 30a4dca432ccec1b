import { and, eq } from "drizzle-orm";
import { SITE, usualEnd } from "#core/release/channel.ts";
import { NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { rhythmSchema } from "#core/release/rhythm.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { windowsSchema } from "#core/release/windows-format.ts";
import { ledger, release, released } from "#server/db/schema/index.ts";
import { doDue } from "#server/jobs/loop.ts";
import { piecePage } from "#server/pieces/page.ts";
import { listReleased } from "#server/reader/queries.ts";
import { retireChannel, saveChannel, wouldMove } from "#server/release/channel-changes.ts";
import { loadChannel, loadChannels, nextNumberOf } from "#server/release/channels.ts";
import { cancelRelease, confirmRelease, planRelease } from "#server/release/commands.ts";
import { bulletin, editionsOf, fill } from "../support/edition.ts";
import { worker } from "../support/worker.ts";
import {
  accepted,
  approved,
  bindReview,
  codeOf,
  DAY,
  HOUR,
  heard,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterEach(() => world.close());

const at = (text: string) => Date.parse(text);
const ROME = "Europe/Rome";
type Saved = Parameters<typeof saveChannel>[1];
const channel = (more: Partial<Saved> = {}): Saved => ({
  key: "",
  name: "Valley radio",
  windows: alwaysOpen(ROME),
  lookout: NOTHING_LOOKED_FOR,
  revision: 0,
  ...more,
});
const save = (more: Partial<Saved> = {}, who = "ilda") => saveChannel(world.act(who), channel(more));
const on = async (pieceId: string, through: string) => ({
  pieceId,
  revision: (await look(world, pieceId)).piece.revision,
  channel: through,
});
const plan = async (id: string, when: number, more: object = {}, who = "ilda", through = "valley-radio") =>
  planRelease(world.act(who), { ...(await on(id, through)), at: when, ...more });
const plans = (id: string) => world.db.select().from(release).where(eq(release.pieceId, id));
const out = (id: string) => world.db.select().from(released).where(eq(released.pieceId, id));

test("channels stand after the reader site in the order in which they were made, each under a key of its own", async () => {
  expect(accepted(await save())).toEqual({ key: "valley-radio", moved: 0 });
  expect(accepted(await save()).key).toBe("valley-radio-2");
  expect(accepted(await save({ name: "水の便り" })).key).toBe("channel");
  expect((await loadChannels(world.db)).map((one) => one.key)).toEqual([
    SITE,
    "valley-radio",
    "valley-radio-2",
    "channel",
  ]);
  accepted(await save({ key: "valley-radio", name: "Radio", revision: 1 }));
  expect(await loadChannel(world.db, "valley-radio")).toMatchObject({ name: "Radio", revision: 2 });
});

test.each<[string, Partial<Saved>, string]>([
  ["changed meanwhile", { key: "valley-radio", revision: 0 }, "stale"],
  ["of a key that names none", { key: "nowhere", revision: 0 }, "stale"],
  ["never open", { windows: windowsSchema.parse({ format: "elenco.windows/1", zone: ROME, open: [] }) }, "never-open"],
  ["of somebody who is not here", { people: ["00000000-0000-7000-8000-000000000000"] }, "not-found"],
  [
    "with two parts of one key",
    {
      editions: {
        called: "One",
        rhythm: null,
        parts: [
          { key: "a", name: "A" },
          { key: "a", name: "B" },
        ],
        closes: null,
        target: null,
        takes: [],
      },
    },
    "parts",
  ],
  [
    "with a rule for a part that is not there",
    {
      editions: {
        called: "One",
        rhythm: null,
        parts: [{ key: "a", name: "A" }],
        closes: null,
        target: null,
        takes: [{ kind: null, section: "x", part: "b" }],
      },
    },
    "parts",
  ],
  [
    "of editions for the reader site",
    {
      key: SITE,
      name: "Reader site",
      editions: {
        called: "One",
        rhythm: null,
        parts: [{ key: "a", name: "A" }],
        closes: null,
        target: null,
        takes: [],
      },
    },
    "site",
  ],
])("a channel %s is refused, and nothing is kept of it", async (_, more, code) => {
  accepted(await save());
  expect(codeOf(await save(more))).toBe(code);
  expect(await loadChannels(world.db)).toHaveLength(2);
  expect(codeOf(await save({}, "kai"))).toBe("not-granted");
});

test("twenty are enough; one that was given up makes room, and cannot be changed any more", async () => {
  for (let i = 0; i < 20; i++) accepted(await save({ name: `Number ${i}` }));
  expect(codeOf(await save({ name: "One more" }))).toBe("too-many");
  accepted(await retireChannel(world.act("ilda"), { key: "number-3", revision: 1, ends: false }));
  accepted(await save({ name: "One more" }));
  expect(codeOf(await save({ key: "number-3", revision: 2 }))).toBe("stale");
  expect(codeOf(await retireChannel(world.act("ilda"), { key: "number-3", revision: 2, ends: true }))).toBe("stale");
  expect(codeOf(await retireChannel(world.act("ilda"), { key: SITE, revision: 1, ends: true }))).toBe("stale");
  accepted(await save({ key: SITE, name: "Reader site" }));
  expect(codeOf(await retireChannel(world.act("ilda"), { key: SITE, revision: 1, ends: true }))).toBe("site");
});

test("who lets things out through it is its own matter: the date of whoever else may release is a proposal", async () => {
  accepted(await save({ people: [world.id("ilda")] }));
  const id = await approved(world);
  expect(accepted(await plan(id, MORNING + DAY, {}, "kai")).proposed).toBe(true);
  expect(codeOf(await confirmRelease(world.act("kai"), await on(id, "valley-radio")))).toBe("not-granted");
  const shown = async (who: string) =>
    (await piecePage(world.db, await world.viewer(who), (await look(world, id)).piece.slug))?.through.channels[0];
  expect(await shown("kai")).toMatchObject({ letsOut: false, plan: { status: "proposed", confirmable: false } });
  expect(await shown("ilda")).toMatchObject({ letsOut: true, plan: { confirmable: true } });
  accepted(await confirmRelease(world.act("ilda"), await on(id, "valley-radio")));
  expect(await plans(id)).toMatchObject([{ status: "planned", channel: "valley-radio" }]);
  // At the reader site they are asked for what they always were.
  expect(codeOf(await plan(id, MORNING + DAY, {}, "tobia", SITE))).toBe("not-granted");
});

test("what is planned through it leaves there alone, ends there alone, and says so; the piece goes live with it", async () => {
  accepted(await save());
  const id = await approved(world);
  const time = MORNING + DAY;
  accepted(await plan(id, time, { endsAt: time + DAY }));
  await doDue(worker(world, time), "release");
  expect(await out(id)).toMatchObject([{ channel: "valley-radio", from: time, until: null, endsAt: time + DAY }]);
  expect((await look(world, id)).piece.stateKey).toBe("live");
  expect(await listReleased(world.db)).toEqual([]);
  await doDue(worker(world, time + DAY), "ending");
  expect(await out(id)).toMatchObject([{ until: time + DAY }]);
  // It was taken from no reader of the site: it stays where it is.
  expect((await look(world, id)).piece.stateKey).toBe("live");
  const told = await world.db
    .select()
    .from(ledger)
    .where(and(eq(ledger.pieceId, id), eq(ledger.action, "release.ended")));
  expect(told).toMatchObject([{ after: { through: "Valley radio" } }]);
});

test("what is out on the reader site leaves through another channel as it is, with the words approved last", async () => {
  accepted(await save());
  const id = await approved(world);
  accepted(await send(world, id, "ilda", "release"));
  const time = MORNING + DAY;
  accepted(await plan(id, time));
  await doDue(worker(world, time), "release");
  expect((await out(id)).map((one) => one.channel).sort()).toEqual([SITE, "valley-radio"]);
  expect(await listReleased(world.db)).toHaveLength(1);
});

test("taken off one channel's schedule it stays on the other's", async () => {
  accepted(await save());
  const id = await approved(world);
  accepted(await plan(id, MORNING + DAY));
  accepted(await plan(id, MORNING + 2 * DAY, {}, "ilda", SITE));
  accepted(await cancelRelease(world.act("ilda"), await on(id, "valley-radio")));
  expect((await plans(id)).map((one) => [one.channel, one.status]).sort()).toEqual([
    [SITE, "planned"],
    ["valley-radio", "cancelled"],
  ]);
});

test("nothing is planned by itself through a channel of editions, one that was given up, or none at all", async () => {
  await bulletin(world);
  accepted(await save());
  const id = await approved(world);
  expect(codeOf(await plan(id, MORNING + DAY, {}, "ilda", "bulletin"))).toBe("editions");
  expect(codeOf(await plan(id, MORNING + DAY, {}, "ilda", "nowhere"))).toBe("not-found");
  accepted(await plan(id, MORNING + DAY));
  const wanted = { key: "valley-radio", revision: 1 };
  expect(codeOf(await retireChannel(world.act("ilda"), { ...wanted, ends: false }))).toBe("still-dates");
  accepted(await retireChannel(world.act("ilda"), { ...wanted, ends: true }));
  expect(await plans(id)).toMatchObject([{ status: "cancelled" }]);
  expect(codeOf(await plan(id, MORNING + DAY))).toBe("not-found");
  await doDue(worker(world, MORNING + 2 * DAY), "release");
  expect(await out(id)).toEqual([]);
});

test("its windows move what is planned through it, and nothing else; that is shown before", async () => {
  accepted(await save());
  const [here, there] = [await approved(world, "Here"), await approved(world, "There")];
  const noon = at("2026-11-25T11:00Z");
  accepted(await plan(here, noon));
  accepted(await plan(there, noon, {}, "ilda", SITE));
  const windows = windowsSchema.parse({
    format: "elenco.windows/1",
    zone: ROME,
    open: [{ days: ["wed", "thu"], from: "20:00", until: "22:00" }],
  });
  const shown = accepted(await wouldMove(world.db, await world.viewer("ilda"), { key: "valley-radio", windows }));
  expect(shown).toMatchObject([{ title: "Here", at: noon, to: at("2026-11-25T19:00Z") }]);
  expect(accepted(await wouldMove(world.db, await world.viewer("dario"), { key: "valley-radio", windows }))).toEqual(
    [],
  );
  expect(accepted(await save({ key: "valley-radio", revision: 1, windows })).moved).toBe(1);
  expect(await plans(here)).toMatchObject([{ at: at("2026-11-25T19:00Z"), wishedAt: noon }]);
  expect(await plans(there)).toMatchObject([{ at: noon }]);
});

test("another rhythm: the empty editions ahead give way under the same numbers, what somebody filled stays", async () => {
  await bulletin(world);
  const of = async () => {
    const { name, windows, lookout, people, editions, revision } = await loadChannel(world.db, "bulletin");
    if (!editions) throw new Error("the bulletin gathers none");
    return { key: "bulletin", name, windows, lookout, people: [...people], editions, revision };
  };
  accepted(await fill(world, 49, [await approved(world)]));
  const known = await of();
  const tuesdays = rhythmSchema.parse({ every: "week", days: ["tue"], at: "07:00", since: "2026-01-01" });
  accepted(await saveChannel(world.act("ilda"), { ...known, editions: { ...known.editions, rhythm: tuesdays } }));
  const editions = await editionsOf(world);
  const days = editions.map((one) => [one.number, new Date(one.at).getUTCDay()]);
  expect(days).toContainEqual([49, 4]);
  expect(days.filter(([, day]) => day === 2).map(([number]) => number)).toEqual([48, 50, 51, 52, 53, 54]);
  expect(await nextNumberOf(world.db, "bulletin")).toBe(55);
  // No rhythm at all: those that are there stay, and none comes.
  const now = await of();
  accepted(await saveChannel(world.act("ilda"), { ...now, editions: { ...now.editions, rhythm: null } }));
  expect(await editionsOf(world)).toHaveLength(editions.length);
});

test("its people hear of a date that waits for them, and nobody else does", async () => {
  accepted(await save({ people: [world.id("ilda")] }));
  const id = await approved(world, "For the radio");
  accepted(await plan(id, MORNING + HOUR, {}, "kai"));
  expect((await heard(world, "ilda", id))[0]?.headline).toContain("For the radio");
  expect(await heard(world, "lene", id)).toEqual([]);
});

test("what is usual in a channel holds where nothing else is said; what a plan has stays when it is moved", async () => {
  accepted(await save({ usual: { at: "07:00", days: 30 } }));
  const [usual, never, own] = [await approved(world), await approved(world), await approved(world)];
  const soon = MORNING + DAY;
  accepted(await plan(usual, soon));
  accepted(await plan(never, soon, { endsAt: null }));
  accepted(await plan(own, soon, { endsAt: soon + DAY, correction: "The time was wrong." }));
  const [first] = await plans(usual);
  expect(first?.endsAt).toBe(usualEnd({ at: null, days: 30 }, soon, ROME));
  expect(await plans(never)).toMatchObject([{ endsAt: null }]);

  accepted(await plan(usual, soon + HOUR));
  accepted(await plan(never, soon + HOUR));
  accepted(await plan(own, soon + HOUR));
  expect(await plans(usual)).toMatchObject([{ endsAt: first?.endsAt }]);
  expect(await plans(never)).toMatchObject([{ endsAt: null }]);
  expect(await plans(own)).toMatchObject([{ endsAt: soon + DAY, correction: "The time was wrong." }]);
});
