import { setTimeout as pause } from "node:timers/promises";
import { pastCollisions } from "./collisions.ts";

/** What the database says, as deep as it is wrapped on its way. */
const says = (errno: number) => new Error("query", { cause: Object.assign(new Error("database"), { errno }) });

/** Work that fails with these, one each time it is tried, and then is done. */
function failing(...errors: readonly Error[]) {
  let tried = 0;
  const work = async () => {
    const error = errors[tried++];
    if (error) throw error;
    return "done";
  };
  return { work, tried: () => tried };
}

test.each<[what: string, errors: readonly Error[], tried: number]>([
  ["nothing", [], 1],
  ["a deadlock", [says(1213)], 2],
  ["a lock waited for too long, then a deadlock", [says(1205), says(1213)], 3],
  ["a record changed since it was read", [says(1020)], 2],
])("turned away by %s, it is done in the end", async (_, errors, tried) => {
  const once = failing(...errors);
  expect(await pastCollisions(once.work)).toBe("done");
  expect(once.tried()).toBe(tried);
});

test.each<[what: string, error: Error]>([
  ["a duplicate", says(1062)],
  ["a syntax error", says(1064)],
  ["anything that is not the database's", new Error("fog")],
])("%s is told at once", async (_, error) => {
  const once = failing(error);
  await expect(pastCollisions(once.work)).rejects.toBe(error);
  expect(once.tried()).toBe(1);
});

test("what else says so is up to whoever asks, and leaves the rest as it is", async () => {
  const isDuplicate = (number: number) => number === 1062;
  const once = failing(says(1062), says(1213));
  expect(await pastCollisions(once.work, isDuplicate)).toBe("done");
  expect(once.tried()).toBe(3);
  const other = failing(says(1064));
  await expect(pastCollisions(other.work, isDuplicate)).rejects.toThrow("query");
  expect(other.tried()).toBe(1);
});

test("it is tried eight times, and what it failed with the last time is told", async () => {
  const errors = Array.from({ length: 9 }, () => says(1213));
  const never = failing(...errors);
  await expect(pastCollisions(never.work)).rejects.toBe(errors[7]);
  expect(never.tried()).toBe(8);
});

test("one try follows the other: two never run at once", async () => {
  let running = 0;
  const once = failing(says(1213), says(1213));
  const work = async () => {
    running += 1;
    expect(running).toBe(1);
    await pause(5);
    running -= 1;
    return once.work();
  };
  expect(await pastCollisions(work)).toBe("done");
});
