import { and, eq } from "drizzle-orm";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { READY_ROLES } from "#core/access/permissions.ts";
import { loadHolder } from "#server/access/holders.ts";
import { accessGrant, ledger, person, seat } from "#server/db/schema/index.ts";
import { decide } from "#server/passage/deciding.ts";
import { changePassword } from "#server/people/accounts.ts";
import { endGrant, type Granting, grantRole } from "#server/people/grants.ts";
import { addGroup, deleteGroup, listGroups, setMembers } from "#server/people/groups.ts";
import { endAccess, restoreAccess, whatRemains } from "#server/people/leaving.ts";
import { personPage } from "#server/people/queries.ts";
import { addRole, deleteRole, listRoles, previewRole, saveRole } from "#server/people/roles.ts";
import { beginSeeingAs, endSeeingAs } from "#server/people/see-as.ts";
import { loadSession, openSession } from "#server/people/sessions.ts";
import { why } from "#server/pieces/why.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  DAY,
  HOUR,
  look,
  MORNING,
  makeWorld,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const role = (roleKey: string, more: Partial<Granting> = {}): Granting => ({
  roleKey,
  scope: "publication",
  scopeId: null,
  from: null,
  until: null,
  publishFrom: null,
  publishUntil: null,
  ...more,
});
const give = (who: string, grant: Granting, by = "ilda") =>
  grantRole(world.act(by), { to: { personId: world.id(who) }, grant });
const may = async (who: string, permission: Parameters<typeof can>[1], now = MORNING) => {
  const holder = await loadHolder(world.db, world.id(who));
  return holder !== null && can(holder, permission, PUBLICATION, now).allowed;
};
const grantsOf = (who: string) =>
  world.db
    .select()
    .from(accessGrant)
    .where(eq(accessGrant.personId, world.id(who)));

test.each<[string, Granting, string]>([
  ["one that ends before it begins", role("web", { from: MORNING + DAY, until: MORNING }), "empty-period"],
  ["publish dates that end before they begin", role("web", { publishFrom: 9, publishUntil: 9 }), "empty-period"],
  ["a role there is not", role("emperor"), "unknown-role"],
  ["the guests' role", role("guest"), "unknown-role"],
  ["a section there is not", role("web", { scope: "section", scopeId: "nowhere" }), "unknown-scope"],
  ["a kind there is not", role("web", { scope: "kind", scopeId: "nothing" }), "unknown-scope"],
  ["a piece there is not", role("web", { scope: "piece", scopeId: "nothing" }), "unknown-scope"],
  ["a section not chosen", role("web", { scope: "section" }), "unknown-scope"],
])("a grant that cannot be: %s", async (_, grant, code) => {
  expect(codeOf(await give("tobia", grant))).toBe(code);
});

test("a private draft is not made known by trying to give a role on it", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id } = await begin(world, "Mine alone", "tobia", MORNING, true);
  expect(codeOf(await give("noor", role("lead", { scope: "piece", scopeId: id })))).toBe("unknown-scope");
});

test("a grant for a time holds in that time, is told, recorded, and can be ended", async () => {
  accepted(await give("tobia", role("web", { from: MORNING + DAY, until: MORNING + 3 * DAY })));
  expect([await may("tobia", "piece.release"), await may("tobia", "piece.release", MORNING + DAY)]).toEqual([
    false,
    true,
  ]);
  const [, given] = await grantsOf("tobia");
  accepted(await endGrant(world.act("ilda", MORNING + 2 * DAY), { grantId: given?.id ?? "", until: 0 }));
  expect(await may("tobia", "piece.release", MORNING + 2 * DAY)).toBe(false);
  accepted(await endGrant(world.act("ilda"), { grantId: given?.id ?? "", until: 0 }));
  expect(await grantsOf("tobia")).toHaveLength(1);
  const entries = await world.db
    .select()
    .from(ledger)
    .where(eq(ledger.subjectId, world.id("tobia")));
  expect(entries.map((one) => one.action)).toEqual(expect.arrayContaining(["role.given", "role.ended"]));
  expect(codeOf(await give("tobia", role("web"), "sefa"))).toBe("not-granted");
  expect(codeOf(await endGrant(world.act("tobia"), { grantId: given?.id ?? "", until: null }))).toBe("not-granted");
});

test("what adds nothing is shown beside what covers it, not guessed", async () => {
  accepted(await give("tobia", role("writer", { scope: "section", scopeId: world.id("section winter") })));
  const page = await personPage(world.db, await world.viewer("ilda"), "tobia");
  expect(page?.holds.map((one) => [one.words, one.covered])).toContainEqual([
    "Writer for Routes / Winter",
    "Writer for the whole publication",
  ]);
});

test("through a group: everybody in it holds the role, and no longer when they leave it or it goes", async () => {
  const { key } = accepted(await addGroup(world.act("ilda"), "Release desk"));
  const group = async () => (await listGroups(world.db)).find((one) => one.key === key);
  const groupId = (await group())?.id ?? "";
  const members = [world.id("tobia"), world.id("noor")];
  accepted(await setMembers(world.act("ilda"), { groupId, members }));
  accepted(await grantRole(world.act("ilda"), { to: { groupId }, grant: role("web") }));
  expect([await may("tobia", "piece.release"), await may("noor", "piece.release")]).toEqual([true, true]);
  expect((await group())?.members.map((one) => one.key)).toEqual(["noor", "tobia"]);
  accepted(await setMembers(world.act("ilda"), { groupId, members: [world.id("noor")] }));
  expect([await may("tobia", "piece.release"), await may("noor", "piece.release")]).toEqual([false, true]);
  const asked = { person: "noor", action: "piece.release", piece: null };
  expect((await why(world.db, await world.viewer("ilda"), asked))?.because[0]).toContain(
    "through the group Release desk",
  );
  accepted(await deleteGroup(world.act("ilda"), groupId));
  expect(await may("noor", "piece.release")).toBe(false);
  expect(codeOf(await addGroup(world.act("ilda"), "Winter desk"))).toBe("taken");
  expect(codeOf(await addGroup(world.act("kai"), "Other"))).toBe("not-granted");
});

test("nothing leaves the publication without somebody who gives roles", async () => {
  const [only] = await grantsOf("ilda");
  const act = world.act("ilda");
  expect(codeOf(await endGrant(act, { grantId: only?.id ?? "", until: 0 }))).toBe("last-keeper");
  expect(codeOf(await endGrant(act, { grantId: only?.id ?? "", until: MORNING + DAY }))).toBe("last-keeper");
  const chief = (await listRoles(world.db, MORNING)).find((one) => one.key === "chief");
  const without = { key: "chief", name: "Managing editor", permissions: ["piece.read"], secondFactor: false };
  expect(codeOf(await saveRole(act, { ...without, revision: chief?.revision ?? 0 }))).toBe("last-keeper");
  expect(codeOf(await endAccess(act, { personId: world.id("ilda"), handovers: [] }))).toBe("self");
  accepted(await give("sefa", role("chief", { until: MORNING + DAY })));
  expect(codeOf(await endGrant(act, { grantId: only?.id ?? "", until: 0 }))).toBe("last-keeper");
  accepted(await give("sefa", role("chief")));
  const bothLeave = await Promise.all([
    endGrant(act, { grantId: only?.id ?? "", until: 0 }),
    endAccess(world.act("ilda"), { personId: world.id("sefa"), handovers: [] }),
  ]);
  expect(bothLeave.filter((one) => one.ok)).toHaveLength(1);
});

test("two who end each other's access at once: one is quicker, and the other's no longer counts", async () => {
  accepted(await give("sefa", role("chief")));
  const end = (who: string, by: string) => endAccess(world.act(by), { personId: world.id(who), handovers: [] });
  const both = await Promise.all([end("sefa", "ilda"), end("ilda", "sefa")]);
  expect(both.map(codeOf).sort()).toEqual(["accepted", "not-granted"]);
});

test("a role changed: who gains and loses what on how many pieces, and what breaks, is known before", async () => {
  await bindReview(world, "any", [{ role: "checker", pick: "everyone" }]);
  await begin(world, "One");
  await begin(world, "Two", "noor");
  const viewer = await world.viewer("ilda");
  const writer = READY_ROLES.find((one) => one.key === "writer")?.permissions ?? [];
  const wider = await previewRole(world.db, viewer, "writer", [...writer, "piece.read"]);
  const read = wider.shifts.filter((one) => one.permission === "piece.read");
  expect(read.map((one) => [one.person.key, one.after, one.gained, one.lost]).sort()).toEqual([
    ["mina", "yes", 2, 0],
    ["noor", "yes", 1, 0],
    ["tobia", "yes", 1, 0],
  ]);
  const narrower = await previewRole(
    world.db,
    viewer,
    "writer",
    writer.filter((one) => one !== "piece.edit.own"),
  );
  const edits = narrower.shifts.filter((one) => one.permission === "piece.edit");
  expect(edits.map((one) => [one.person.key, one.lost])).toEqual([
    ["mina", 0],
    ["noor", 1],
    ["tobia", 1],
  ]);
  const nobodyBegins = await previewRole(world.db, viewer, "writer", []);
  expect(nobodyBegins.shifts.find((one) => one.permission === "piece.create")).toMatchObject({
    gained: null,
    after: "no",
  });
  expect((await previewRole(world.db, viewer, "writer", writer)).shifts).toEqual([]);
});

test("before a role is kept it says which workflows it would break, and nothing of those broken already", async () => {
  await bindReview(world, "any", [{ role: "checker" }]);
  const viewer = await world.viewer("ilda");
  const checker = READY_ROLES.find((one) => one.key === "checker")?.permissions ?? [];
  const without = checker.filter((one) => one !== "review.decide");
  const { breaks } = await previewRole(world.db, viewer, "checker", without);
  expect(breaks.map((one) => one.sentence)).toContain("Check: who sits as Route checker may not decide in a review.");
  expect(breaks.filter((one) => !one.sentence.includes("Route checker"))).toEqual([]);
  expect((await previewRole(world.db, viewer, "checker", checker)).breaks).toEqual([]);
  const kept = { key: "checker", name: "Route checker", permissions: without, secondFactor: false, revision: 1 };
  accepted(await saveRole(world.act("ilda"), kept));
  const fewer = without.filter((one) => one !== "piece.comment");
  expect((await previewRole(world.db, viewer, "checker", fewer)).breaks).toEqual([]);
});

test("roles: made, copied, compared by what they hold, kept with before and after, and not done away with while held", async () => {
  const act = world.act("ilda");
  const { key } = accepted(await addRole(act, { name: "Night desk", from: "copy-editor" }));
  const one = async (wanted: string) => (await listRoles(world.db, MORNING)).find((row) => row.key === wanted);
  expect((await one(key))?.permissions.sort()).toEqual([...((await one("copy-editor"))?.permissions ?? [])].sort());
  const change = { key, name: "Night desk", permissions: ["piece.read", "piece.release"], secondFactor: false };
  accepted(await saveRole(act, { ...change, revision: 1 }));
  expect(codeOf(await saveRole(act, { ...change, revision: 1 }))).toBe("stale");
  expect(codeOf(await saveRole(act, { ...change, permissions: ["fly"], revision: 2 }))).toBe("unknown-permission");
  expect(codeOf(await saveRole(act, { ...change, name: "Writer", revision: 2 }))).toBe("taken");
  const [entry] = await world.db.select().from(ledger).where(eq(ledger.action, "role.changed"));
  expect([entry?.before, entry?.after]).toMatchObject([
    { permissions: expect.arrayContaining(["piece.edit"]) },
    { permissions: ["piece.read", "piece.release"] },
  ]);
  expect(codeOf(await deleteRole(act, "writer"))).toBe("in-use");
  expect(codeOf(await deleteRole(act, "guest"))).toBe("not-found");
  accepted(await deleteRole(act, key));
  expect(await one(key)).toBeUndefined();
});

test("access that ends: sessions at once, what waited goes on in the same step or not at all", async () => {
  await bindReview(world, "all", [{ person: "wim" }, { person: "jorun" }]);
  const { id } = await begin(world, "In review");
  accepted(await send(world, id, "tobia", "send"));
  const { id: own } = await begin(world, "Wim's own", "wim").catch(() => ({ id: null }));
  expect(own).toBeNull();
  const remains = await whatRemains(world.db, await world.viewer("ilda"), { id: world.id("wim"), key: "wim" });
  expect(remains.waiting.map((one) => [one.sort, one.title])).toEqual([["seat", "In review"]]);
  expect(remains.waiting[0]?.able).not.toContain(world.id("jorun"));
  expect(remains.waiting[0]?.able).not.toContain(world.id("tobia"));
  expect(remains.breaks.map((one) => one.sentence).join()).toContain("Wim Aldera no longer works here");
  accepted(await give("wim", role("web", { until: MORNING + 9 * DAY })));
  const cookie = accepted(await openSession(world.act(null), world.id("wim"), { address: "x", agent: "x" }));
  const end = (to: string) =>
    endAccess(world.act("ilda"), {
      personId: world.id("wim"),
      handovers: [{ sort: "seat", pieceId: id, to: world.id(to) }],
    });
  expect(codeOf(await end("tobia"))).toBe("unable");
  expect(codeOf(await end("jorun"))).toBe("seated");
  expect(await loadSession(world.db, cookie, MORNING)).not.toBeNull();
  accepted(await end("petra"));
  expect(await loadSession(world.db, cookie, MORNING)).toBeNull();
  const seats = await world.db.select({ who: seat.personId }).from(seat).where(eq(seat.pieceId, id));
  expect(seats.map((one) => one.who).sort()).toEqual([world.id("jorun"), world.id("petra")].sort());
  const { version } = await look(world, id);
  const answer = { pieceId: id, versionHash: version.hash, verdict: "approve" as const, note: "" };
  expect(codeOf(await decide(world.act("wim"), answer))).toBe("ended");
  accepted(await decide(world.act("petra"), answer));
  expect(await may("wim", "piece.read")).toBe(false);
  accepted(await restoreAccess(world.act("ilda", MORNING + HOUR), world.id("wim")));
  expect((await grantsOf("wim")).every((one) => (one.until ?? Infinity) <= MORNING)).toBe(true);
  expect(await may("wim", "piece.read", MORNING + HOUR)).toBe(false);
});

test("a text its writer leaves behind goes to another, who is told", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id } = await begin(world, "Half written", "mina");
  const handovers = [{ sort: "text" as const, pieceId: id, to: world.id("noor") }];
  accepted(await endAccess(world.act("ilda"), { personId: world.id("mina"), handovers }));
  expect((await look(world, id)).piece.authorId).toBe(world.id("noor"));
  expect(codeOf(await send(world, id, "noor", "send"))).toBe("accepted");
});

test("without the permission to decide a seat alone is not enough", async () => {
  await bindReview(world, "any", [{ person: "gus" }, { person: "wim" }]);
  const { id } = await begin(world);
  accepted(await send(world, id, "tobia", "send"));
  const { version, piece } = await look(world, id);
  const answer = { pieceId: id, versionHash: version.hash, verdict: "approve" as const, note: "" };
  expect(codeOf(await decide(world.act("gus"), answer))).toBe("not-granted");
  const asked = { person: "gus", action: "review.decide", piece: piece.slug };
  expect(await why(world.db, await world.viewer("ilda"), asked)).toMatchObject({
    allowed: false,
    because: [
      "No role of theirs lets them decide in a review here.",
      "Asked to decide: Wim Aldera.",
      "None of their roles allows it: Picture desk.",
    ],
    who: [{ key: "wim" }],
  });
  accepted(await decide(world.act("wim"), answer));
});

test("why: the steps' own reasons, the grants, who could; and nothing about what one may not see", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { piece } = await look(world, (await begin(world, "Asked about")).id);
  const ask = async (viewer: string, question: Partial<Parameters<typeof why>[2]>) =>
    why(world.db, await world.viewer(viewer), { person: "noor", action: "step:send", piece: piece.slug, ...question });
  expect(await ask("ilda", {})).toMatchObject({ allowed: false, who: [{ key: "tobia" }], title: "Asked about" });
  expect((await ask("ilda", {}))?.because[0]).toBe("Send is not yours to take.");
  expect(await ask("ilda", { person: "tobia" })).toMatchObject({ allowed: true });
  expect(await ask("ilda", { action: "piece.release", person: "kai" })).toMatchObject({
    allowed: true,
    because: ["Through Web and releases for the whole publication."],
  });
  expect(await ask("tobia", { person: "tobia" })).toMatchObject({ allowed: true });
  expect(await ask("tobia", { person: "noor" })).toBeNull();
  expect(await ask("noor", { person: "noor" })).toBeNull();
  expect(await ask("ilda", { action: "step:fly" })).toBeNull();
  expect(await ask("ilda", { piece: "no-such" })).toBeNull();
});

test("seeing as: their screens, nothing changed, on record, and only for who may", async () => {
  const cookie = accepted(await openSession(world.act(null), world.id("ilda"), { address: "x", agent: "x" }));
  const begin_ = (who: string, as: string) => beginSeeingAs(world.act(who), { personId: world.id(as), secret: cookie });
  expect(codeOf(await begin_("sefa", "noor"))).toBe("not-granted");
  expect(codeOf(await begin_("ilda", "ilda"))).toBe("self");
  accepted(await begin_("ilda", "noor"));
  expect(await loadSession(world.db, cookie, MORNING)).toMatchObject({
    personId: world.id("ilda"),
    seeingAsId: world.id("noor"),
  });
  const looking = { ...world.act("noor"), seeingAs: "Noor Castellan" };
  expect(codeOf(await addGroup(looking, "Sneaky"))).toBe("seeing-as");
  // A password is no question there: right and wrong ones are answered alike.
  for (const old of ["right or wrong", "a long enough phrase"])
    expect(codeOf(await changePassword(looking, { old, password: "another long phrase", session: "" }))).toBe(
      "seeing-as",
    );
  accepted(await endSeeingAs(world.act("ilda"), cookie));
  expect((await loadSession(world.db, cookie, MORNING))?.seeingAsId).toBeNull();
  const entries = await world.db
    .select()
    .from(ledger)
    .where(eq(ledger.subjectId, world.id("noor")));
  expect(entries.map((one) => one.action)).toEqual(expect.arrayContaining(["see-as.began", "see-as.ended"]));
});

test("an ended person is not seen as, and a guest is nobody's colleague", async () => {
  await world.db
    .update(person)
    .set({ active: false })
    .where(and(eq(person.key, "gus")));
  const cookie = accepted(await openSession(world.act(null), world.id("ilda"), { address: "x", agent: "x" }));
  const as = beginSeeingAs(world.act("ilda"), { personId: world.id("gus"), secret: cookie });
  expect(codeOf(await as)).toBe("not-found");
});
