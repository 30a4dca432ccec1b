import { and, eq } from "drizzle-orm";
import type { Result } from "#core/refusal.ts";
import { SETTLEMENTS } from "#core/remarks/thread.ts";
import type { Block } from "#core/text/block.ts";
import { type Content, isManuscript, type Value } from "#core/text/fields.ts";
import { type Patch, patchBetween } from "#core/text/splice.ts";
import { due } from "#core/time/due.ts";
import { localDate } from "#core/time/local.ts";
import { type State, stateOf, transitionOf, type Workflow } from "#core/workflow/document.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import { person, piece, seat, thread, version } from "#server/db/schema/index.ts";
import { attachFile } from "#server/files/commands.ts";
import { carryOut } from "#server/passage/carry-out.ts";
import { sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { loadDocuments } from "#server/piece/documents.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { planRelease } from "#server/release/commands.ts";
import { remark, reply } from "#server/remarks/commands.ts";
import { settleThread } from "#server/remarks/settle.ts";
import { savePiece } from "#server/text/commands.ts";
import type { Act } from "#server/write.ts";
import { track } from "./pictures.ts";
import { type Plot, plots, type Stage, working } from "./plots.ts";
import { remarksOn } from "./remarks.ts";
import { calendar } from "./setting.ts";
import { chance, content, pick, remarkWords, returnNote, sendNote } from "./texts.ts";

const DAY = 86_400_000;
const HOUR = 3_600_000;
/** The kinds of piece that have a picture. */
const PICTURED = ["route-guide", "hut-page", "feature"];

/** A story tells at which instant it goes on; between two yields it acts through the server's own commands. */
type Story = AsyncGenerator<number, void, number>;

/**
 * Plays a year of the publication: about 120 pieces, each travelling by the same commands the
 * screens use, all their steps in the order of time. What would happen after `now` has not yet.
 */
export async function tellTheYear(db: Database, stage: Stage): Promise<void> {
  const running: { at: number; story: Story }[] = [];
  for (const plot of plots(stage)) {
    const story = tell(db, stage, plot);
    running.push({ at: Math.round((await story.next()).value as number), story });
  }
  for (;;) {
    running.sort((a, b) => b.at - a.at);
    const next = running.pop();
    if (!next || next.at > stage.now) return;
    const step = await next.story.next(next.at);
    if (!step.done) running.push({ at: Math.round(step.value), story: next.story });
  }
}

async function* tell(db: Database, stage: Stage, plot: Plot): Story {
  const { random } = plot;
  const act = (personId: string, now: number): Act => ({
    db,
    personId,
    now,
    origin: "demo",
    requestId: "demo",
    baseUrl: stage.baseUrl,
    files: stage.files,
    proven: true,
  });
  const author = stage.person(plot.author);
  let now = yield plot.begins;
  const made = expect(
    await createPiece(act(author, now), {
      sectionId: stage.section(plot.section),
      kindId: stage.kind(plot.kind),
      title: plot.title,
      private: false,
    }),
  );
  const text = content(plot.kind, plot.title, localDate(now, calendar.timeZone), random);
  /** What is said on words has a chance of its own: the ways of the pieces stay what they are. */
  const saying = chance(Math.floor(plot.begins / HOUR) % 9_973);
  let returned = 0;

  for (;;) {
    const { row, state, workflow } = await where(db, made.id);
    if (state.kind === "live" || state.kind === "closed" || state.kind === "parked") {
      if (state.kind !== "live" || plot.turn !== "revised" || row.firstLiveAt !== row.liveAt) return;
      now = yield working(Math.max(now, stage.now - 3 * DAY) + random() * DAY);
      expect(
        await sendPiece(
          act(author, now),
          sending(row.revision, made.id, "revise", "The bridge is back; the way round can go."),
        ),
      );
      continue;
    }
    if (state.kind === "writing") {
      // A revision is begun at once; what readers have meanwhile is another text.
      if (row.liveVersionId) {
        now = yield working(now + HOUR);
        await write();
      }
      now = yield spend(now, state, plot);
      await write();
      const [step] = workflow.transitions.filter((one) => one.from.includes(state.key) && one.by.includes("author"));
      const parked = plot.turn === "parked" && transitionOf(workflow, "set-aside");
      const chosen = parked || step;
      if (!chosen) return;
      now = yield now + HOUR * (0.2 + random());
      const reviewers = (stateOf(workflow, chosen.to).review?.seats ?? []).some(
        (one) => "role" in one && one.pick === "sender",
      )
        ? [stage.person(pick(["petra", "petra", "ansel"], random))]
        : [];
      const current = await where(db, made.id);
      const wish = row.publishAt === null && random() < 0.6 ? now + (8 + random() * 16) * DAY : null;
      expect(
        await sendPiece(act(author, now), {
          ...sending(current.row.revision, made.id, chosen.key, sendNote(random)),
          reviewers,
          publishAt: wish && evening(wish),
          urgency: random() < 0.1 ? "urgent" : "normal",
        }),
      );
      continue;
    }
    if (state.review) {
      now = yield spend(now, state, plot);
      await review(state);
      continue;
    }
    yield* release(row);
    if ((await where(db, made.id)).state.kind !== "live") return;
  }

  async function write() {
    const { row } = await where(db, made.id);
    const [last] = await db
      .select({ number: version.number, hash: version.hash })
      .from(version)
      .where(eq(version.id, row.currentVersionId));
    const fresh = content(plot.kind, plot.title, localDate(now, calendar.timeZone), random);
    if (last?.number === 1) Object.assign(text.fields, await illustrate());
    // A short one is written anew, a long one in its middle.
    if (last?.number !== 1)
      text.fields.body = PICTURED.includes(plot.kind)
        ? mended(text.fields.body, fresh.fields.body)
        : (fresh.fields.body as Value);
    expect(
      await savePiece(act(author, now), {
        pieceId: made.id,
        window: newId(),
        base: last?.hash ?? "",
        patch: whole({ ...text, title: plot.title }),
      }),
    );
    const open = await db
      .select({ id: thread.id, field: thread.field })
      .from(thread)
      .where(eq(thread.pieceId, made.id));
    for (const { id, field } of open) {
      const chance = field === null ? random() : saying();
      const outcome = pick(SETTLEMENTS, saying);
      if (chance < 0.7)
        await settleThread(act(author, now), { pieceId: made.id, threadId: id, settled: true, outcome });
    }
  }

  /** Brings the piece's picture and, for a walk, its track. */
  async function illustrate(): Promise<Content["fields"]> {
    const n = plot.title.length;
    const picture = stage.pictures[n % stage.pictures.length];
    if (!picture || !PICTURED.includes(plot.kind) || n % 4 === 0) return {};
    const { name, bytes, ...words } = picture;
    const bring = async (file: { name: string; bytes: Buffer; description: string; credit: string }) =>
      expect(await attachFile(act(author, now), { pieceId: made.id, licence: "Own work", ...file })).id;
    const file = await bring({ name, bytes, description: words.alt, credit: words.credit });
    if (plot.kind !== "route-guide") return { picture: { file, ...words } };
    const gpx = { name: "track.gpx", description: "The walk, as recorded", credit: "Fontelba Trails" };
    return { picture: { file, ...words }, track: await bring({ ...gpx, bytes: track(plot.title, chance(n)) }) };
  }

  /** What a reviewer says while they read, and what the writer answers to some of it. */
  async function say(reviewer: string, versionId: string) {
    const piece = { pieceId: made.id };
    const by = act(reviewer, now);
    if (random() < 0.45) expect(await remark(by, { ...piece, body: remarkWords(random) }));
    const [read] = await db.select({ content: version.content }).from(version).where(eq(version.id, versionId));
    if (!read || saying() < 0.25) return;
    for (const { place, kind, body, wording, reply: answer } of remarksOn(read.content, saying)) {
      const { id } = expect(await remark(by, { ...piece, place, kind, body, wording }));
      if (answer && saying() < 0.7)
        expect(await reply(act(author, now + HOUR / 8), { ...piece, threadId: id, body: answer }));
    }
  }

  async function review(state: State) {
    const [open] = await db
      .select({ personId: seat.personId, name: person.name })
      .from(seat)
      .innerJoin(person, eq(person.id, seat.personId))
      .where(and(eq(seat.pieceId, made.id), eq(seat.status, "open")))
      .limit(1);
    if (!open) throw new Error(`nobody is asked in ${state.name} of ${plot.title}`);
    const { row } = await where(db, made.id);
    const [read] = await db.select({ hash: version.hash }).from(version).where(eq(version.id, row.currentVersionId));
    await say(open.personId, row.currentVersionId);
    const back = returned < plot.returns && random() < 0.7;
    if (back) returned += 1;
    expect(
      await decide(act(open.personId, now + HOUR / 4), {
        pieceId: made.id,
        versionHash: read?.hash ?? "",
        verdict: back ? "return" : "approve",
        note: back ? returnNote(random) : "",
        signature: open.name,
      }),
    );
  }

  async function* release(row: typeof piece.$inferSelect): Story {
    now = yield spend(now, { take: "4wh" }, plot);
    if (plot.turn === "ready") return;
    if (random() < 0.25 && !plot.turn && now > stage.now - 6 * DAY) return;
    const at = Math.max(row.publishAt ?? 0, morning(now + (1 + random() * 5) * DAY));
    const current = await where(db, made.id);
    // Things leave at whole minutes.
    const plannedAt = plot.turn === "held" ? working(stage.now - 5 * HOUR) : Math.ceil(at / 60_000) * 60_000;
    if (plannedAt <= now) return;
    const plan = expect(
      await planRelease(act(stage.person("ilda"), now), {
        pieceId: made.id,
        revision: current.row.revision,
        at: plannedAt,
      }),
    );
    if (plot.turn === "held") {
      now = yield plannedAt - HOUR;
      const [last] = await db.select().from(version).where(eq(version.id, current.row.currentVersionId));
      const changed = { ...text, fields: { ...text.fields, weeks: "26 December to 12 April" } };
      expect(
        await savePiece(act(stage.person("ilda"), now), {
          pieceId: made.id,
          window: newId(),
          base: last?.hash ?? "",
          patch: whole(changed),
        }),
      );
    }
    now = yield plannedAt;
    expect(await carryOut({ ...act(author, now), personId: null, origin: "job releases" }, [plan.id]));
  }
}

/** A text of which the middle was written anew. */
function mended(before: Value | undefined, fresh: Value | undefined): Value {
  const [was, now] = [before, fresh].map((value) => (isManuscript(value) ? ((value as Block).content ?? []) : []));
  const middle = Math.floor((was?.length ?? 0) / 2);
  return { type: "doc", content: (was ?? []).toSpliced(middle, 1, ...(now ?? []).slice(0, 1)) };
}

/** A save of everything a content holds. */
const whole = (all: Content) => patchBetween({ title: "", fields: {} }, all) as Patch;

async function where(
  db: Database,
  id: string,
): Promise<{ row: typeof piece.$inferSelect; state: State; workflow: Workflow }> {
  const [row] = await db.select().from(piece).where(eq(piece.id, id));
  if (!row) throw new Error("a story has lost its piece");
  const workflow = (await loadDocuments(db, [row.workflowRevisionId])).get(row.workflowRevisionId) as Workflow;
  return { row, workflow, state: stateOf(workflow, row.stateKey) };
}

const sending = (revision: number, pieceId: string, transition: string, note: string) => ({
  pieceId,
  revision,
  transition,
  note,
  dueAt: null,
  publishAt: null,
  urgency: "normal" as const,
  reviewers: [] as string[],
});

/** When work begun now is done at the plot's pace. */
function spend(now: number, state: { take?: string | undefined }, plot: Plot): number {
  const allowed = due(calendar, now, state.take ?? "1wd") - now;
  return working(now + Math.max(HOUR / 2, allowed * plot.pace * (0.6 + plot.random() * 0.6)));
}

const morning = (at: number) => due(calendar, Math.round(at), "1wh");
const evening = (at: number) => due(calendar, Math.round(at), "0wd");

function expect<T>(result: Result<T>): T {
  if (!result.ok)
    throw new Error(`the demo was refused: ${result.refusal.sentence} ${result.refusal.missing?.join("; ") ?? ""}`);
  return result.value;
}
