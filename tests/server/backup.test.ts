import { mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { eq, sql } from "drizzle-orm";
import { BadArchive } from "#server/backup/archive.ts";
import { backUp, lookAt, type Places } from "#server/backup/backup.ts";
import { ClientProblem } from "#server/backup/database.ts";
import { NotEmpty, restore } from "#server/backup/restore.ts";
import { connect, type Database, disconnect } from "#server/db/client.ts";
import { attachment, comment, file, ledgerTail } from "#server/db/schema/index.ts";
import { attachFile } from "#server/files/commands.ts";
import { picture } from "#server/files/samples.ts";
import { sizedPicture } from "#server/files/store.ts";
import { sweepFiles } from "#server/files/sweep.ts";
import { inFolder } from "#server/files/verify.ts";
import { remark } from "#server/remarks/commands.ts";
import { accepted, begin, DAY, makeWorld, type World } from "../support/world.ts";

let world: World;
let folder: string;
let pieceId: string;
let here: Places;

beforeAll(async () => {
  world = await makeWorld();
  folder = mkdtempSync(path.join(tmpdir(), "elenco-backup-"));
  here = { url: world.url, files: world.files };
  pieceId = (await begin(world)).id;
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await world.close();
});

const attach = async (bytes: Buffer) =>
  accepted(
    await attachFile(world.act("tobia"), {
      pieceId,
      name: "hut.jpg",
      description: "The hut",
      credit: "O. Prell",
      licence: "Own work",
      bytes,
    }),
  ).id;

const placeOf = (id: string) => path.join(world.files, id.slice(0, 2), id);
const archive = (name: string) => path.join(folder, name);
let places = 0;

/** Restores an archive into a place that was not there before, and looks into it. */
async function restored<T>(from: string, work: (at: { db: Database } & Places) => Promise<T>): Promise<T> {
  const name = `${world.url.split("/").pop()}_restored_${++places}`;
  const there = { url: world.url.replace(/[^/]+$/, name), files: path.join(folder, name) };
  try {
    await restore(from, there);
    const db = connect(there.url);
    return await work({ db, ...there }).finally(() => disconnect(db));
  } finally {
    await world.db.execute(sql`DROP DATABASE IF EXISTS ${sql.identifier(name)}`);
  }
}

test("an archive taken while people write is whole, sound, and of one instant", async () => {
  const id = await attach(await picture("#246"));
  let writing = true;
  let written = 1;
  accepted(await remark(world.act("ilda"), { pieceId, body: "Remark 1 — “ä”, 登山" }));
  const writers = ["tobia", "ilda"].map(async (who) => {
    while (writing) {
      accepted(await remark(world.act(who), { pieceId, body: `Remark ${++written}` }));
    }
  });
  const held = await backUp(here, archive("busy.tar.gz"));
  writing = false;
  await Promise.all(writers);
  expect(held).toMatchObject({ broken: null, files: 1 });
  const [end] = await world.db.select().from(ledgerTail);
  expect(held.entries).toBeLessThan(end?.seq ?? 0);
  await restored(archive("busy.tar.gz"), async ({ db, url, files }) => {
    expect(await lookAt(url, inFolder(files))).toEqual(held);
    const remarks = await db.select({ body: comment.body }).from(comment).where(eq(comment.pieceId, pieceId));
    expect(remarks.map((one) => one.body)).toContain("Remark 1 — “ä”, 登山");
    expect(readFileSync(path.join(files, id.slice(0, 2), id))).toEqual(readFileSync(placeOf(id)));
  });
  expect(readdirSync(folder).filter((name) => name.includes("part"))).toEqual([]);
  const [databases] = (await world.db.execute(sql`SHOW DATABASES LIKE '%\_check\_%'`)) as unknown as [unknown[]];
  expect(databases).toEqual([]);
});

test("what is not sound does not count as a backup", async () => {
  const id = await attach(await picture("#357"));
  const bytes = readFileSync(placeOf(id));
  writeFileSync(
    placeOf(id),
    bytes.map((byte, i) => (i === 40 ? byte ^ 1 : byte)),
  );
  expect((await backUp(here, archive("damaged.tar.gz"))).broken).toBe(`file ${id} is missing`);
  rmSync(placeOf(id));
  expect((await backUp(here, archive("missing.tar.gz"))).broken).toBe(`file ${id} is missing`);
  expect(readdirSync(folder).filter((name) => /damaged|missing/.test(name))).toEqual([]);
  writeFileSync(placeOf(id), bytes);
  expect((await backUp(here, archive("mended.tar.gz"))).broken).toBeNull();
});

test("an archive that was damaged, cut, or is none is not taken for one; nothing is restored over what is there", async () => {
  const whole = readFileSync(archive("mended.tar.gz"));
  const cases = {
    cut: whole.subarray(0, whole.length - 2_000),
    damaged: whole.map((byte, i) => (i === whole.length - 500 ? byte ^ 255 : byte)),
    none: Buffer.from("not an archive"),
  };
  for (const [name, bytes] of Object.entries(cases)) {
    writeFileSync(archive(name), bytes);
    await expect(restored(archive(name), async () => name)).rejects.toThrow(BadArchive);
  }
  await expect(restore(archive("mended.tar.gz"), here)).rejects.toThrow(NotEmpty);
  const elsewhere = { ...here, url: here.url.replace(/:\d+\//, ":1/") };
  await expect(backUp(elsewhere, archive("nowhere"))).rejects.toThrow(ClientProblem);
});

test("files nobody names any more are taken away after a week, with what was made of them; what is named stays", async () => {
  const [kept, left] = [await attach(await picture("#468")), await attach(await picture("#579"))];
  for (const id of [kept, left]) await sizedPicture(world.files, id, 600);
  await world.db.delete(attachment).where(eq(attachment.fileId, left));
  const begun = `${placeOf(kept)}.broken-off.part`;
  writeFileSync(begun, "half");
  const lying = (id: string) => readdirSync(path.dirname(placeOf(id))).filter((name) => name.startsWith(id)).length;
  expect(await sweepFiles(world.db, world.files)).toBe(0);
  const later = Date.now() + 8 * DAY;
  expect(await sweepFiles(world.db, world.files, later)).toBe(3);
  expect([lying(kept), lying(left)]).toEqual([2, 0]);
  expect(await world.db.select().from(file).where(eq(file.id, left))).toEqual([]);
  // Brought again in between, an old one is young.
  const again = await picture("#68a");
  const id = await attach(again);
  await world.db.delete(attachment).where(eq(attachment.fileId, id));
  const old = new Date(Date.now() - 8 * DAY);
  utimesSync(placeOf(id), old, old);
  await attach(again);
  await world.db.delete(attachment).where(eq(attachment.fileId, id));
  expect(await sweepFiles(world.db, world.files)).toBe(0);
});
