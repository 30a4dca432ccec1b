import ICAL from "ical.js";
import { SITE } from "#core/release/channel.ts";
import { decide } from "#server/passage/deciding.ts";
import { calendarAddress, calendarFile, giveCalendar, takeCalendar } from "#server/people/calendar-given.ts";
import {
  channelCalendar,
  channelCalendarAddress,
  giveChannelCalendar,
  takeChannelCalendar,
} from "#server/release/calendar.ts";

import { planRelease } from "#server/release/commands.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  DAY,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const BASE = "http://elenco.test";
const addressOf = async (who: string) => calendarAddress(world.db, await world.viewer(who), BASE);
const secretIn = (address: string | null) => /\/calendar\/(.+)\.ics$/.exec(address ?? "")?.[1] ?? "";
const fileAt = (secret: string) => calendarFile(world.db, secret, BASE, MORNING);

test("another reader of iCalendar finds the due dates of what waits on its owner, and theirs alone", async () => {
  const { id } = await begin(world, "Comma, semicolon; and “quotes”\\");
  accepted(await send(world, id, "tobia", "send"));
  accepted(await giveCalendar(world.act("wim")));
  accepted(await giveCalendar(world.act("petra")));
  const file = (await fileAt(secretIn(await addressOf("wim")))) ?? "";
  const calendar = new ICAL.Component(ICAL.parse(file));
  const events = calendar.getAllSubcomponents("vevent").map((one) => new ICAL.Event(one));
  expect(events.map((one) => one.summary)).toEqual(["Decide: Comma, semicolon; and “quotes”\\"]);
  expect(events[0]?.uid).toBe(`due-${id}@elenco`);
  expect(events[0]?.startDate.toJSDate().getTime()).toBeGreaterThan(MORNING);
  expect(String(events[0]?.component.getFirstPropertyValue("url"))).toContain(`${BASE}/pieces/`);
  expect(file).not.toMatch(/[^\r]\n/);
  const petras = new ICAL.Component(ICAL.parse((await fileAt(secretIn(await addressOf("petra")))) ?? ""));
  expect(petras.getAllSubcomponents("vevent")).toEqual([]);
});

test("what leaves through the reader site stands in its own file, at an address only who runs the publication gives out", async () => {
  const { id } = await begin(world, "Leaves on Friday");
  accepted(await send(world, id, "tobia", "send"));
  const { version } = await look(world, id);
  accepted(await decide(world.act("wim"), { pieceId: id, versionHash: version.hash, verdict: "approve", note: "" }));
  const { revision } = (await look(world, id)).piece;
  accepted(await planRelease(world.act("ilda"), { pieceId: id, revision, at: MORNING + 3 * DAY }));
  expect(codeOf(await giveChannelCalendar(world.act("petra"), { key: SITE }))).toBe("not-granted");
  accepted(await giveChannelCalendar(world.act("ilda"), { key: SITE }));
  const secret = secretIn(await channelCalendarAddress(world.db, SITE, BASE));
  const file = (await channelCalendar(world.db, secret, BASE, MORNING)) ?? "";
  const events = new ICAL.Component(ICAL.parse(file)).getAllSubcomponents("vevent").map((one) => new ICAL.Event(one));
  expect(events.map((one) => [one.summary, one.startDate.toJSDate().getTime()])).toEqual([
    ["Leaves on Friday", MORNING + 3 * DAY],
  ]);
  accepted(await takeChannelCalendar(world.act("ilda"), { key: SITE }));
  expect(await channelCalendar(world.db, secret, BASE, MORNING)).toBeNull();
});

test("a new address ends the one before, and one taken back opens nothing", async () => {
  accepted(await giveCalendar(world.act("wim")));
  const first = secretIn(await addressOf("wim"));
  accepted(await giveCalendar(world.act("wim")));
  const second = secretIn(await addressOf("wim"));
  expect([await fileAt(first), (await fileAt(second)) !== null]).toEqual([null, true]);
  accepted(await takeCalendar(world.act("wim")));
  expect([await fileAt(second), await addressOf("wim"), await fileAt("")]).toEqual([null, null, null]);
});
