import { asc } from "drizzle-orm";
import { insertAll } from "#server/db/insert.ts";
import { newId } from "#server/db/schema/columns.ts";
import { outbox } from "#server/db/schema/index.ts";
import { makeWorld, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const letter = (subject: string) => ({
  id: newId(),
  recipient: "noor@fontelba.example",
  subject,
  body: subject,
  status: "waiting" as const,
});

test("rows go in as they are, whatever signs they hold, and what is left out takes its default", async () => {
  const subjects = ["Why? 'So.'", '"\\" and ?? and \\0', "line\nbreak", "🥾 Grüße", "'); DELETE FROM outbox; --"];
  await world.db.transaction((tx) => insertAll(tx, outbox, subjects.map(letter)));
  const rows = await world.db.select().from(outbox).orderBy(asc(outbox.id));
  expect(rows.map((row) => [row.subject, row.body, row.personId, row.attempts])).toEqual(
    subjects.map((subject) => [subject, subject, null, 0]),
  );
});

test("more than fit into one statement go in in parts; where a part fails, none has", async () => {
  const before = await world.db.$count(outbox);
  const many = function* (last: ReturnType<typeof letter>) {
    for (let i = 0; i < 1_200; i++) yield letter(`number ${i}`);
    yield last;
  };
  const twice = letter("twice");
  await world.db.transaction((tx) => insertAll(tx, outbox, many(twice)));
  expect(await world.db.$count(outbox)).toBe(before + 1_201);
  await expect(world.db.transaction((tx) => insertAll(tx, outbox, many(twice)))).rejects.toThrow();
  expect(await world.db.$count(outbox)).toBe(before + 1_201);
});
