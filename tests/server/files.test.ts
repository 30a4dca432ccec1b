import { rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { eq } from "drizzle-orm";
import { accept } from "#core/refusal.ts";
import type { Value } from "#core/text/fields.ts";
import { patchBetween } from "#core/text/splice.ts";
import { newId } from "#server/db/schema/columns.ts";
import { attachment, ledger, release } from "#server/db/schema/index.ts";
import { attachFile, describeFile, removeFile } from "#server/files/commands.ts";
import { fileReleased, fileSeen, filesOf, filesSeen } from "#server/files/queries.ts";
import { picture } from "#server/files/samples.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { decide } from "#server/passage/deciding.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { jsonFeed } from "#server/reader/feeds.ts";
import { readersPiece } from "#server/reader/piece.ts";
import { planRelease } from "#server/release/commands.ts";
import { savePiece } from "#server/text/commands.ts";
import {
  accepted,
  bindReview,
  codeOf,
  HOUR,
  look,
  MORNING,
  makeWorld,
  paragraph,
  send,
  type World,
  windowOf,
} from "../support/world.ts";

let world: World;
/** A picture no other test has. */
let jpeg: Buffer;
let width = 100;
beforeEach(async () => {
  jpeg = await picture("#456", { width: width++ });
});
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "any", [{ person: "wim" }]);
});
afterAll(() => world.close());

const SAID = { name: "hut.jpg", description: "The hut", credit: "G. Ferrante", licence: "Own work" };
const WORDS = { alt: "The hut", caption: "", credit: "G. Ferrante" };
const AT = MORNING + 5 * HOUR;

/** A hut page in the Bulletin, where any review of Wim's will do. */
async function hutPage(author = "tobia", isPrivate = false) {
  return accepted(
    await createPiece(world.act(author), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind hut-page"),
      title: "Rifugio Larice",
      private: isPrivate,
    }),
  );
}

const bring = (pieceId: string, who = "tobia", bytes = jpeg, more: Partial<typeof SAID> = {}) =>
  attachFile(world.act(who), { pieceId, bytes, ...SAID, ...more });

/** Saves fields over those a piece has. */
async function put(pieceId: string, fields: Record<string, Value>, who = "tobia") {
  const { version } = await look(world, pieceId);
  const next = { ...version.content, fields: { ...version.content.fields, ...fields } };
  const patch = patchBetween(version.content, next);
  if (!patch) throw new Error("nothing differs");
  return savePiece(world.act(who), { pieceId, window: windowOf(who), base: version.hash, patch });
}

const COMPLETE = {
  standfirst: "A hut above the trees.",
  body: paragraph(`${"Beds and soup. ".repeat(25)}`),
  weeks: "June to October",
  beds: 24,
};

/** A hut page with a picture, approved and planned. */
async function planned() {
  const { id, slug } = await hutPage();
  const file = accepted(await bring(id)).id;
  accepted(await put(id, { ...COMPLETE, picture: { file, ...WORDS } }));
  accepted(await send(world, id, "tobia", "send"));
  const { version } = await look(world, id);
  accepted(await decide(world.act("wim"), { pieceId: id, versionHash: version.hash, verdict: "approve", note: "" }));
  const { revision } = (await look(world, id)).piece;
  const plan = accepted(await planRelease(world.act("ilda"), { pieceId: id, revision, at: AT }));
  return { id, slug, file, plan: plan.id };
}

const kept = (id: string) => path.join(world.files, id.slice(0, 2), id);
const leave = async (plan: string) => {
  const became = await carryOut(world.act(null, AT), [plan]);
  return became.ok ? accept(became.value.get(plan)) : became;
};

test("a file is kept once, said of anew, taken out and put back; each is on record", async () => {
  const { id } = await hutPage();
  const file = accepted(await bring(id)).id;
  expect(accepted(await bring(id, "tobia", jpeg, { name: "again.jpg" })).id).toBe(file);
  accepted(await describeFile(world.act("tobia"), { pieceId: id, fileId: file, ...SAID, licence: "CC BY 4.0" }));
  accepted(await removeFile(world.act("tobia"), { pieceId: id, fileId: file, removed: true }));
  expect(await filesOf(world.db, id)).toMatchObject([{ id: file, licence: "CC BY 4.0", removedAt: MORNING }]);
  accepted(await removeFile(world.act("tobia"), { pieceId: id, fileId: file, removed: false }));
  expect(await filesOf(world.db, id)).toMatchObject([{ name: "hut.jpg", mediaType: "image/jpeg", removedAt: null }]);
  const entries = await world.db.select().from(ledger).where(eq(ledger.pieceId, id)).orderBy(ledger.seq);
  expect(entries.map((one) => one.action).slice(-5)).toEqual([
    "file.attached",
    "file.attached",
    "file.described",
    "file.removed",
    "file.returned",
  ]);
});

test("a program by another name is refused, and nothing of it is kept", async () => {
  const { id } = await hutPage();
  const program = Buffer.from([0x7f, 0x45, 0x4c, 0x46, 2, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 62, 0]);
  expect(codeOf(await bring(id, "tobia", program))).toBe("bad-file");
  expect(await filesOf(world.db, id)).toEqual([]);
});

test("what stands in the text is not taken out; what once did can be brought back with its words", async () => {
  const { id } = await hutPage();
  const file = accepted(await bring(id)).id;
  accepted(await put(id, { picture: { file, ...WORDS } }));
  const out = () => removeFile(world.act("tobia"), { pieceId: id, fileId: file, removed: true });
  expect(codeOf(await out())).toBe("in-use");
  accepted(await put(id, { picture: undefined as never }));
  accepted(await out());
  accepted(await put(id, { picture: { file, ...WORDS } }));
  expect(await filesOf(world.db, id)).toMatchObject([{ removedAt: null }]);
});

describe("a file named in a text", () => {
  test("of another piece one may see comes along, with what is said of it there", async () => {
    const { id } = await hutPage();
    const file = accepted(await bring(id)).id;
    const other = await hutPage();
    accepted(await put(other.id, { picture: { file, ...WORDS } }));
    expect(await filesOf(world.db, other.id)).toMatchObject([{ id: file, name: "hut.jpg", licence: "Own work" }]);
  });

  test("of a piece one cannot see, or of none, is refused: nobody reads a file by naming it", async () => {
    const hidden = await hutPage("noor", true);
    const secret = accepted(await bring(hidden.id, "noor")).id;
    const { id } = await hutPage();
    for (const file of [secret, "0".repeat(64)])
      expect(codeOf(await put(id, { picture: { file, ...WORDS } }))).toBe("content");
    const forged = await createPiece(world.act("tobia"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind hut-page"),
      title: "Forged",
      private: false,
      fields: { picture: { file: secret, ...WORDS } },
    });
    expect(codeOf(forged)).toBe("content");
    const [tobia, noor] = [await world.viewer("tobia"), await world.viewer("noor")];
    expect(await fileSeen(world.db, tobia, secret)).toBeNull();
    expect((await fileSeen(world.db, noor, secret))?.name).toBe("hut.jpg");
    expect([...(await filesSeen(world.db, tobia, [secret]))]).toEqual([]);
  });
});

test("readers get what the released version shows, and nothing that merely belongs to the piece", async () => {
  const { id, slug, file, plan } = await planned();
  const notes = accepted(await bring(id, "ilda", Buffer.from("Ask the warden."), { name: "notes.txt" })).id;
  expect(await fileReleased(world.db, slug, file)).toBeNull();
  expect(accepted(await leave(plan))).toBe("done");
  expect((await fileReleased(world.db, slug, file))?.mediaType).toBe("image/jpeg");
  expect(await fileReleased(world.db, slug, notes)).toBeNull();
  const [item] = ((await jsonFeed(world.db, "http://elenco.test")) as { items: { image: string }[] }).items;
  expect(item?.image).toBe(`http://elenco.test/read/${slug}/files/${file}?width=480`);
});

test("a piece another refers to is named to readers once they can read it", async () => {
  const { slug, id, plan } = await planned();
  const fields = [{ key: "walk", name: "Walk", type: "piece" as const, required: false }];
  const content = { title: "T", fields: { walk: id } };
  const one = { id, fields, content, author: "A", section: "S", liveAt: null, firstLiveAt: null };
  const facts = async () => (await readersPiece(world.db, one, (file) => file)).facts;
  expect(await facts()).toEqual([]);
  accepted(await leave(plan));
  expect(await facts()).toEqual([{ name: "Walk", value: "Rifugio Larice", href: `/read/${slug}` }]);
});

describe("a release is held for its files", () => {
  test.each<[string, (id: string, file: string) => Promise<unknown> | unknown, RegExp]>([
    ["missing", (_, file) => rmSync(kept(file)), /“hut.jpg” is no longer among the files kept/],
    ["damaged, its length the same", (_, file) => writeFileSync(kept(file), Buffer.alloc(jpeg.length)), /is damaged/],
    [
      "without a licence",
      (id) => world.db.update(attachment).set({ licence: "" }).where(eq(attachment.pieceId, id)),
      /comes without a licence/,
    ],
  ])("%s", async (_, happens, reason) => {
    const { id, file, plan } = await planned();
    await happens(id, file);
    expect(accepted(await leave(plan))).toBe("held");
    const [row] = await world.db.select().from(release).where(eq(release.id, plan));
    expect(row?.holds).toEqual([{ code: "files", about: [expect.stringMatching(reason)] }]);
    expect(codeOf(await send(world, id, "ilda", "release"))).toBe("files");
  });

  test("and leaves once the file was brought again", async () => {
    const { id, file, plan } = await planned();
    rmSync(kept(file));
    accepted(await bring(id, "ilda"));
    expect(accepted(await leave(plan))).toBe("done");
  });
});

test("pictures that come along with a new piece are its own from the start, or the piece is not begun", async () => {
  const files = [{ ...SAID, bytes: jpeg, mediaType: "image/jpeg", width: 800, height: 500 }];
  const { createHash } = await import("node:crypto");
  const file = createHash("sha256").update(jpeg).digest("hex");
  const made = accepted(
    await createPiece(world.act("tobia"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind hut-page"),
      title: "From a file",
      private: false,
      fields: { picture: { file, ...WORDS } },
      files,
    }),
  );
  expect(await filesOf(world.db, made.id)).toMatchObject([{ id: file, addedBy: "Tobia Rensk" }]);
  expect(codeOf(await bring(newId()))).toBe("not-found");
});
