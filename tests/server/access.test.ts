import { and, eq, or } from "drizzle-orm";
import fc from "fast-check";
import { can, inForce, type Target } from "#core/access/decide.ts";
import { lineage } from "#core/sections/tree.ts";
import { visible, visibleApart } from "#server/access/visible.ts";
import { newId } from "#server/db/schema/columns.ts";
import {
  accessGrant,
  assignment,
  groupMember,
  person,
  personGroup,
  piece,
  pieceViewer,
  role,
  rolePermission,
} from "#server/db/schema/index.ts";
import { houseAt } from "#server/house.ts";
import { listNotices } from "#server/notices/queries.ts";
import { decide } from "#server/passage/deciding.ts";
import { endGrant } from "#server/people/grants.ts";
import { loadSession, openSession } from "#server/people/sessions.ts";
import { listPieces } from "#server/pieces/lists.ts";
import { piecePage } from "#server/pieces/page.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { remark } from "#server/remarks/commands.ts";
import { timetable } from "#server/schedule/timetable.ts";
import { loadViewer } from "#server/viewer.ts";
import {
  accepted,
  begin,
  bindReview,
  codeOf,
  DAY,
  look,
  MORNING,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const SECTIONS = ["section routes", "section winter", "section huts", "section magazine", "section columns"];

test("what core says of reading one piece, the condition of every list says too", async () => {
  const { db } = world;
  const reader = newId();
  await db.insert(role).values([{ id: reader, key: "reader", name: "Reader" }]);
  await db.insert(rolePermission).values({ roleId: reader, permission: "piece.read" });
  const pieces: { id: string; target: Target }[] = [];
  const viewer = await world.viewer("gus");
  const seer = await world.viewer("sefa");
  const random = fc.sample(
    fc.record({
      section: fc.constantFrom(...SECTIONS),
      kind: fc.constantFrom("kind route-guide", "kind hut-page"),
      mine: fc.boolean(),
      private: fc.boolean(),
      viewers: fc.constantFrom<string[]>(["anyone"], ["role:reader"], ["author"], ["person:gus"], ["role:chief"]),
      assigned: fc.boolean(),
      publishAt: fc.option(fc.integer({ min: 0, max: 20 }).map((day) => MORNING + day * DAY)),
    }),
    80,
  );
  for (const one of random) {
    const { id } = await begin(world, "Visible or not", one.mine ? "tobia" : "noor");
    const authorId = one.mine ? world.id("gus") : world.id("noor");
    const restricted = !one.viewers.includes("anyone");
    await db
      .update(piece)
      .set({
        authorId,
        sectionId: world.id(one.section),
        kindId: world.id(one.kind),
        private: one.private,
        restricted,
        publishAt: one.publishAt,
      })
      .where(eq(piece.id, id));
    if (restricted) await db.insert(pieceViewer).values(one.viewers.map((principal) => ({ pieceId: id, principal })));
    if (one.assigned) await db.insert(assignment).values({ pieceId: id, personId: world.id("gus") });
    pieces.push({
      id,
      target: {
        sectionIds: lineage(viewer.places, world.id(one.section)).map((section) => section.id),
        kindId: world.id(one.kind),
        piece: {
          id,
          authorId,
          private: one.private,
          publishAt: one.publishAt,
          assigneeIds: one.assigned ? [world.id("gus")] : [],
          seatedIds: [],
          viewers: one.viewers,
          editors: [],
        },
      },
    });
  }
  const bound = fc.option(fc.integer({ min: -5, max: 15 }).map((day) => MORNING + day * DAY));
  const grant = fc.record({
    scope: fc.constantFrom("publication", "section", "kind", "piece"),
    section: fc.constantFrom(...SECTIONS),
    kind: fc.constantFrom("kind route-guide", "kind hut-page"),
    piece: fc.integer({ min: 0, max: 79 }),
    from: bound,
    until: bound,
    publishFrom: bound,
    publishUntil: bound,
    group: fc.boolean(),
  });
  const groupId = newId();
  await db.insert(personGroup).values({ id: groupId, key: "readers", name: "Readers" });
  await db.insert(groupMember).values({ groupId, personId: world.id("gus") });
  let agreedYes = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(grant, { maxLength: 4 }), async (grants) => {
      await db.delete(accessGrant).where(eq(accessGrant.personId, world.id("gus")));
      await db.delete(accessGrant).where(eq(accessGrant.groupId, groupId));
      for (const one of grants) {
        const scopeId =
          {
            publication: null,
            section: world.id(one.section),
            kind: world.id(one.kind),
            piece: pieces[one.piece]?.id ?? null,
          }[one.scope] ?? null;
        const { from, until, publishFrom, publishUntil } = one;
        await db.insert(accessGrant).values({
          id: newId(),
          ...(one.group ? { groupId } : { personId: world.id("gus") }),
          roleId: reader,
          scope: one.scope as "kind",
          scopeId,
          from,
          until,
          publishFrom,
          publishUntil,
        });
      }
      const gus = await world.viewer("gus");
      const rows = await db
        .select({ id: piece.id })
        .from(piece)
        .where(and(visible(gus), eq(piece.title, "Visible or not")));
      const bySql = rows.map((row) => row.id).sort();
      const apart = await db
        .select({ id: piece.id })
        .from(piece)
        .where(and(or(...visibleApart(gus)), eq(piece.title, "Visible or not")));
      expect(apart.map((row) => row.id).sort()).toEqual(bySql);
      const byCore = pieces
        .filter((one) => can(gus, "piece.read", one.target, MORNING).allowed)
        .map((one) => one.id)
        .sort();
      agreedYes += byCore.length;
      expect(bySql).toEqual(byCore);
      // Through another's eyes one sees what both may, and no draft that is private.
      const looked = { ...gus, grants: [...gus.grants], seenBy: seer };
      const through = await db
        .select({ id: piece.id })
        .from(piece)
        .where(and(visible(looked), eq(piece.title, "Visible or not")));
      const both = pieces.filter(
        ({ target }) =>
          !target.piece?.private && [gus, seer].every((who) => can(who, "piece.read", target, MORNING).allowed),
      );
      expect(through.map((row) => row.id).sort()).toEqual(both.map((one) => one.id).sort());
      expect(pieces.filter(({ target }) => can(looked, "piece.read", target, MORNING).allowed)).toEqual(both);
    }),
    { numRuns: 60 },
  );
  expect(agreedYes).toBeGreaterThan(100);
});

test("a piece one may not see is nowhere: no page, no list, no count, no command", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id, slug } = await begin(world, "Hidden", "tobia", MORNING, true);
  for (const who of ["ilda", "noor", "wim"]) {
    const viewer = await world.viewer(who);
    expect(await piecePage(world.db, viewer, slug)).toBeNull();
    expect((await listPieces(world.db, viewer, { words: "Hidden", show: "all" })).total).toBe(0);
    expect(codeOf(await remark(world.act(who), { pieceId: id, body: "I see you" }))).toBe("not-found");
    expect(codeOf(await save(world, id, who, "Mine"))).toBe("not-found");
    expect(codeOf(await send(world, id, who, "send"))).toBe("not-found");
  }
  accepted(await send(world, id, "tobia", "send"));
  expect(await piecePage(world.db, await world.viewer("ilda"), slug)).not.toBeNull();
  expect(await piecePage(world.db, await world.viewer("noor"), slug)).toBeNull();
});

test("a forged step: not named by the workflow, not open to the person, on a piece of somebody else", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const { id } = await begin(world);
  expect(codeOf(await send(world, id, "tobia", "pass"))).toBe("no-such-move");
  expect(codeOf(await send(world, id, "tobia", "release"))).toBe("no-such-move");
  expect(codeOf(await send(world, id, "ilda", "send"))).toBe("not-yours");
  expect(codeOf(await send(world, id, "noor", "send"))).toBe("not-found");
});

test("what a node keeps of the house is read anew once anything was changed", async () => {
  const secret = accepted(await openSession(world.act(null), world.id("mina"), { address: "test", agent: "test" }));
  const ask = async () => {
    const session = await loadSession(world.db, secret, MORNING);
    return loadViewer(world.db, world.id("mina"), MORNING, houseAt(world.db, session?.end ?? 0));
  };
  const [first, second] = [await ask(), await ask()];
  expect(second?.roster).toBe(first?.roster);
  const [grant] = first?.grants ?? [];
  accepted(await endGrant(world.act("ilda"), { grantId: grant?.id ?? "", until: MORNING }));
  const third = await ask();
  expect(third?.roster).not.toBe(first?.roster);
  expect(third?.grants.filter((one) => inForce(one, MORNING)).map((one) => one.id)).not.toContain(grant?.id);
});

test("an ended person's act is refused, and their session opens nothing", async () => {
  const secret = accepted(await openSession(world.act(null), world.id("mina"), { address: "test", agent: "test" }));
  expect(await loadSession(world.db, secret, MORNING)).toMatchObject({ personId: world.id("mina") });
  expect(await loadSession(world.db, `${secret.slice(0, -1)}~`, MORNING)).toBeNull();
  expect(await loadSession(world.db, secret, MORNING + 15 * DAY)).toBeNull();
  await world.db
    .update(person)
    .set({ active: false })
    .where(eq(person.id, world.id("mina")));
  expect(await loadViewer(world.db, world.id("mina"), MORNING)).toBeNull();
  const { id } = await begin(world);
  expect(codeOf(await remark(world.act("mina"), { pieceId: id, body: "still here" }))).toBe("ended");
});

describe("your turn", () => {
  beforeAll(async () => {
    await world.close();
    world = await makeWorld();
  });

  test("what is asked of whom, and what one waits for", async () => {
    await bindReview(world, "any", [{ person: "lene" }]);
    const { id } = await begin(world, "For Lene", "noor");
    const turnOf = async (who: string) => {
      const turn = await yourTurn(world.db, await world.viewer(who));
      return {
        mine: turn.mine.filter((row) => row.id === id).map((row) => row.asked),
        others: turn.others.filter((row) => row.id === id).length,
      };
    };
    expect(await turnOf("noor")).toEqual({ mine: ["write"], others: 0 });
    accepted(await send(world, id, "noor", "send", { note: "First draft." }));
    expect(await turnOf("noor")).toEqual({ mine: [], others: 1 });
    expect(await turnOf("lene")).toEqual({ mine: ["decide"], others: 0 });
    const [row] = (await yourTurn(world.db, await world.viewer("lene"))).mine;
    expect(row?.arrival).toEqual({ step: "Send", by: "Noor Castellan", note: "First draft." });
    const { version } = await look(world, id);
    accepted(
      await decide(world.act("lene"), { pieceId: id, versionHash: version.hash, verdict: "return", note: "Again." }),
    );
    expect(await turnOf("lene")).toEqual({ mine: [], others: 0 });
    expect(await turnOf("noor")).toEqual({ mine: ["write"], others: 0 });
    const [told] = await listNotices(world.db, await world.viewer("noor"));
    expect(told).toMatchObject({ headline: expect.stringContaining("came back from"), note: "Again." });
  });

  test("lists take as many statements for many rows as for few", async () => {
    const statements: string[] = [];
    const counted = await makeWorld((sql) => statements.push(sql));
    await bindReview(counted, "any", [{ person: "wim" }]);
    const count = async (read: () => Promise<unknown>) => {
      statements.length = 0;
      await read();
      return statements.length;
    };
    const reads = async () => {
      const viewer = await counted.viewer("wim");
      return [
        await count(() => yourTurn(counted.db, viewer)),
        await count(() => listPieces(counted.db, viewer, {})),
        await count(() => timetable(counted.db, viewer, { from: MORNING - DAY, until: MORNING + 40 * DAY })),
      ];
    };
    const add = async () => accepted(await send(counted, (await begin(counted)).id, "tobia", "send"));
    await add();
    const few = await reads();
    for (let i = 0; i < 12; i++) await add();
    expect(await reads()).toEqual(few);
    await counted.close();
  });
});
