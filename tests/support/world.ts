import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { eq } from "drizzle-orm";
import type { Result } from "#core/refusal.ts";
import type { Content } from "#core/text/fields.ts";
import { emptyManuscript, type Manuscript } from "#core/text/manuscript.ts";
import { type Patch, patchBetween } from "#core/text/splice.ts";
import { putWorkflowInUse } from "#demo/seed.ts";
import { connect, type Database, disconnect } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { kind, person, piece, section, version, workflow } from "#server/db/schema/index.ts";
import { listNotices } from "#server/notices/queries.ts";
import { sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { savePiece } from "#server/text/commands.ts";
import { loadViewer, type Viewer } from "#server/viewer.ts";
import { bindWorkflow } from "#server/workflows/bindings.ts";
import type { Act } from "#server/write.ts";
import { copyDatabase, MORNING, resetDatabase } from "./template.ts";

export const HOUR = 3_600_000;
export const DAY = 24 * HOUR;
export { MORNING };

/** A database of the test's own with the demo's people and workflows and no pieces, and short ways to act in it. */
export interface World {
  db: Database;
  url: string;
  /** The folder in which files are kept. */
  files: string;
  id(key: string): string;
  act(who: string | null, now?: number, formKey?: string): Act;
  viewer(who: string, now?: number): Promise<Viewer>;
  close(): Promise<void>;
}

/** Databases of this process whose world was closed: the next world begins in one of them. */
const closed: string[] = [];

/**
 * Makes a world as the template has it: in the database of one that was closed, which is seven times as quick as
 * a new one. @param onStatement told of every statement's text, for counting
 */
export async function makeWorld(onStatement?: (sql: string) => void): Promise<World> {
  const server = process.env.TEST_MARIADB ?? "";
  const left = closed.pop();
  const name = left ?? `test_${randomBytes(6).toString("hex")}`;
  await (left ? resetDatabase(server, name) : copyDatabase(server, name));
  const url = `${server}${name}`;
  const db = connect(url, onStatement);
  const files = mkdtempSync(path.join(tmpdir(), "elenco-files-"));
  const ids = new Map<string, string>();
  for (const table of [person, section, kind, workflow]) {
    for (const row of await db.select({ id: table.id, key: table.key }).from(table)) {
      ids.set(
        table === person
          ? row.key
          : table === kind
            ? `kind ${row.key}`
            : table === section
              ? `section ${row.key}`
              : `workflow ${row.key}`,
        row.id,
      );
    }
  }
  const id = (key: string) => {
    const found = ids.get(key);
    if (!found) throw new Error(`the world has no ${key}`);
    return found;
  };
  return {
    db,
    url,
    files,
    id,
    act: (who, now = MORNING, formKey = undefined) => ({
      db,
      personId: who && id(who),
      now,
      origin: "test",
      requestId: "test",
      formKey,
      baseUrl: "http://elenco.test",
      files,
      proven: true,
    }),
    viewer: async (who, now = MORNING) => {
      const found = await loadViewer(db, id(who), now);
      if (!found) throw new Error(`${who} may not look`);
      return found;
    },
    close: async () => {
      rmSync(files, { recursive: true });
      await disconnect(db);
      closed.push(name);
    },
  };
}

/** The accepted value. @throws when it was refused, with the refusal's sentence */
export function accepted<T>(result: Result<T>): T {
  if (!result.ok)
    throw new Error(
      `refused: ${result.refusal.code}: ${result.refusal.sentence} ${result.refusal.missing?.join("; ") ?? ""}`,
    );
  return result.value;
}

/** Waits until something holds. @throws an error when it does not come to that @param within milliseconds */
export async function until(holds: () => boolean | Promise<boolean>, within = 300_000): Promise<void> {
  const end = Date.now() + within;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error(`it did not come to that within ${within} ms`);
    await pause(20);
  }
}

/** What a form of a piece names: the piece, and its revision as it is now. */
export const onPiece = async (world: World, pieceId: string) => ({
  pieceId,
  revision: (await look(world, pieceId)).piece.revision,
});

/** The refusal's code, or "accepted". */
export const codeOf = (result: Result<unknown>) => (result.ok ? "accepted" : result.refusal.code);

export const paragraph = (text: string): Manuscript => ({
  type: "doc",
  content: [{ type: "paragraph", content: [{ type: "text", text }] }],
});

/** A workflow with one review, as a document; `seats` and `rule` as a test wants them. */
export function oneReview(rule: string, seats: unknown[], more: Record<string, unknown> = {}) {
  return {
    format: "elenco.workflow/1",
    key: `one-${randomBytes(3).toString("hex")}`,
    name: "One review",
    initial: "draft",
    mainLine: ["draft", "check", "ready", "live"],
    states: [
      { key: "draft", name: "Draft", kind: "writing", editors: ["author"] } as Record<string, unknown>,
      {
        key: "check",
        name: "Check",
        kind: "review",
        take: "1wd",
        editors: ["role:copy-editor", "author"],
        review: { rule, seats, approve: "pass", return: "back", decline: "refuse", ...more },
      },
      { key: "ready", name: "Ready", kind: "ready", editors: ["role:chief"] },
      { key: "live", name: "Live", kind: "live" },
      { key: "dropped", name: "Dropped", kind: "closed" },
    ],
    transitions: [
      { key: "send", name: "Send", from: ["draft"], to: "check", by: ["author"] } as Record<string, unknown>,
      { key: "pass", name: "Pass", from: ["check"], to: "ready" },
      { key: "back", name: "Back", from: ["check"], to: "draft" },
      { key: "refuse", name: "Refuse", from: ["check"], to: "dropped" },
      { key: "release", name: "Release", from: ["ready"], to: "live", by: ["role:chief"] },
      { key: "revise", name: "Revise", from: ["live"], to: "draft", by: ["author"] },
    ],
  };
}

/** A workflow with one review, bound to the Bulletin; `seats` and `rule` as a test wants them. */
export const bindReview = (
  world: World,
  rule: string,
  seats: unknown[],
  more: Record<string, unknown> = {},
): Promise<void> => bindLine(world, oneReview(rule, seats, more));

/** Puts a workflow in use for the Bulletin. */
export async function bindLine(world: World, document: object): Promise<void> {
  const key = await putWorkflowInUse(world.act("ilda"), JSON.stringify(document));
  const [row] = await world.db.select({ id: workflow.id }).from(workflow).where(eq(workflow.key, key));
  accepted(
    await bindWorkflow(world.act("ilda"), {
      scope: "section",
      scopeId: world.id("section bulletin"),
      workflowId: row?.id ?? null,
    }),
  );
}

/** A bulletin item of Tobia's, in draft. */
export async function begin(
  world: World,
  title = "Winter room keys",
  author = "tobia",
  now = MORNING,
  isPrivate = false,
) {
  const made = accepted(
    await createPiece(world.act(author, now), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title,
      private: isPrivate,
      fields: { body: paragraph("The keys hang at the bus office.") },
    }),
  );
  return made;
}

/** Approves what somebody is asked about as it is now. */
export async function approve(world: World, pieceId: string, who = "wim", now = MORNING): Promise<void> {
  const { version: read } = await look(world, pieceId);
  accepted(await decide(world.act(who, now), { pieceId, versionHash: read.hash, verdict: "approve", note: "" }));
}

/** An item of Tobia's that Wim has approved, where Wim alone reviews the Bulletin. @param words its text, where it matters */
export async function approved(world: World, title?: string, words?: string): Promise<string> {
  const { id } = await begin(world, title);
  if (words !== undefined) accepted(await save(world, id, "tobia", words));
  accepted(await send(world, id, "tobia", "send"));
  await approve(world, id);
  return id;
}

/** What somebody was told, the newest first, in words; of one piece where it is named. */
export async function heard(
  world: World,
  who: string,
  pieceId?: string,
): Promise<{ headline: string; note: string }[]> {
  const rows = await listNotices(world.db, await world.viewer(who));
  const slug = pieceId && (await look(world, pieceId)).piece.slug;
  return rows
    .filter(({ lead }) => !slug || lead?.split("?")[0] === `/pieces/${slug}`)
    .map(({ headline, note }) => ({ headline, note }));
}

/** The piece as its row and present version stand. */
export async function look(world: World, pieceId: string) {
  const [row] = await world.db
    .select({ piece, version })
    .from(piece)
    .innerJoin(version, eq(version.id, piece.currentVersionId))
    .where(eq(piece.id, pieceId));
  if (!row) throw new Error("the piece is gone");
  return row;
}

/** Takes a step as somebody, on the piece as it stands. */
export async function send(
  world: World,
  pieceId: string,
  who: string,
  transition: string,
  more: {
    reviewers?: string[];
    note?: string;
    now?: number;
    dueAt?: number | null;
    urgency?: "urgent";
    readers?: "keep" | "withdraw";
    notice?: string;
  } = {},
) {
  const { piece: row } = await look(world, pieceId);
  return sendPiece(world.act(who, more.now), {
    pieceId,
    revision: row.revision,
    transition,
    note: more.note ?? "",
    dueAt: more.dueAt ?? null,
    publishAt: null,
    urgency: more.urgency ?? "normal",
    reviewers: (more.reviewers ?? []).map(world.id),
    ...(more.readers && { readers: more.readers }),
    ...(more.notice && { notice: more.notice }),
  });
}

/** A save of everything a content holds. */
export const whole = (content: Content) => patchBetween({ title: "", fields: {} }, content) as Patch;

const windows = new Map<string, string>();
/** The one window somebody writes in. */
export function windowOf(who: string): string {
  const known = windows.get(who) ?? newId();
  windows.set(who, known);
  return known;
}

/** Saves new words as somebody, from the window they write in. */
export async function save(world: World, pieceId: string, who: string, words: string, base?: string, now?: number) {
  const { version: present } = await look(world, pieceId);
  const content = { title: present.content.title, fields: { body: words ? paragraph(words) : emptyManuscript() } };
  const patch = whole(content);
  return savePiece(world.act(who, now), { pieceId, window: windowOf(who), base: base ?? present.hash, patch });
}
