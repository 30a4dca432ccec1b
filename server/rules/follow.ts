import { and, asc, eq, gt, inArray, isNull, lte, sql } from "drizzle-orm";
import { v5 } from "uuid";
import { ruleActed } from "#core/events/rules.ts";
import { accept } from "#core/refusal.ts";
import type { Rule } from "#core/rules/document.ts";
import { allHold, byEvent, isMeant, type Seen } from "#core/rules/match.ts";
import { originOf } from "#core/rules/origin.ts";
import { type RuleNames, sayAction } from "#core/rules/say.ts";
import { lineage } from "#core/sections/tree.ts";
import { total } from "#core/text/fields.ts";
import { visible } from "../access/visible.ts";
import { type Database, isDatabaseGone } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import {
  type Did,
  intakeItem,
  kind,
  ledgerTail,
  piece,
  ruleCursor,
  ruleRun,
  version,
  workflow,
  workflowRevision,
} from "../db/schema/index.ts";
import { itemsSeen } from "../intake/items.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { schedule } from "../tasks/schedule.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import { type Act, write } from "../write.ts";
import { carryOut } from "./acts.ts";
import { carryOutOnComing, comingSeen } from "./coming.ts";
import { type About, type Heard, heardAfter } from "./happened.ts";
import { namesHere } from "./names.ts";
import { loadRules, type StandingRule } from "./rows.ts";

/** So many entries, and so many due dates, are looked at in one go. */
const BATCH = 200;

/**
 * Lets the rules act on what happened since they were last asked, once each, whatever breaks off: how far the
 * ledger was looked at is kept, each act of a rule is laid down before it is begun, and what it does has a key by
 * which it is not done twice.
 *
 * @param system a job's act, at the publication's time
 * @returns whether there may be more
 */
export async function followLedger(system: Act): Promise<boolean> {
  const { db, now } = system;
  const rules = (await loadRules(db)).filter((one) => one.on && one.makerIsHere);
  const cursor = await cursorOf(db, now);
  if (rules.length === 0) {
    const [tail] = await db.select({ seq: ledgerTail.seq }).from(ledgerTail);
    await db.update(ruleCursor).set({ seq: tail?.seq ?? 0, dueUpTo: now });
    return false;
  }
  const following: Following = {
    system,
    rules: byEvent(rules),
    byId: new Map(rules.map((one) => [one.id, one])),
    names: once(() => namesHere(db)),
    places: once(() => loadPlaces(db)),
  };
  await goOn(following);
  const [tail] = await db.select({ seq: ledgerTail.seq }).from(ledgerTail);
  const { heard, upTo } = await heardAfter(db, { after: cursor.seq }, BATCH);
  for (const one of heard) {
    await hear(following, one);
    await db.update(ruleCursor).set({ seq: one.seq ?? cursor.seq });
  }
  // What came while they acted is looked at next.
  const seq = upTo ?? Math.max(tail?.seq ?? 0, heard.at(-1)?.seq ?? 0);
  if (seq !== cursor.seq) await db.update(ruleCursor).set({ seq });
  const more = await passDue(following, cursor.dueUpTo);
  return upTo !== null || more || heard.length > 0;
}

interface Following {
  system: Act;
  rules: ReturnType<typeof byEvent<StandingRule>>;
  byId: ReadonlyMap<string, StandingRule>;
  /** What is asked for once something is heard: mostly nothing is. */
  names(): Promise<RuleNames>;
  places(): Promise<Places>;
}

/** The answer to something that is asked at most once. */
function once<T>(ask: () => Promise<T>): () => Promise<T> {
  let answer: Promise<T> | undefined;
  return () => {
    answer ??= ask();
    return answer;
  };
}

async function cursorOf(db: Database, now: number) {
  const [found] = await db.select().from(ruleCursor);
  if (found) return found;
  const [tail] = await db.select({ seq: ledgerTail.seq }).from(ledgerTail);
  const first = { id: 1, seq: tail?.seq ?? 0, dueUpTo: now };
  await db.insert(ruleCursor).ignore().values(first);
  return first;
}

/** What broke off is gone on with, whatever its conditions say by now. */
async function goOn(following: Following): Promise<void> {
  const open = await following.system.db.select().from(ruleRun).where(isNull(ruleRun.did)).orderBy(asc(ruleRun.at));
  for (const run of open) {
    const rule = following.byId.get(run.ruleId);
    if (rule) await carryThrough(following, rule, run);
  }
}

async function hear(following: Following, { seq, at, about, chain, events }: Heard): Promise<void> {
  for (const event of events) {
    const waiting = (following.rules.get(event.event) ?? []).filter((rule) =>
      seq === null ? at > rule.changedAt : seq > rule.since,
    );
    const look = async () => {
      const { db } = following.system;
      const places = await following.places();
      const seen =
        about.sort === "item" ? comingSeen(db, [about.id], places) : factsOf(db, [about.id], places, waiting);
      return (await seen).get(about.id);
    };
    let seen = waiting.length > 0 ? await look() : undefined;
    for (const rule of waiting) {
      if (!seen || !isMeant(rule, { ...seen.place, ...event }) || !allHold(rule, seen.facts)) continue;
      // The next rule is asked of the piece as this one leaves it.
      if (await fire(following, rule, about, chain)) seen = await look();
    }
  }
}

/** The pieces whose due date passed since the rules last looked. */
async function passDue(following: Following, after: number): Promise<boolean> {
  const { db, now } = following.system;
  const late = await db
    .select({ id: piece.id, dueAt: piece.dueAt })
    .from(piece)
    .where(and(eq(piece.inFlight, true), isNull(piece.deletedAt), gt(piece.dueAt, after), lte(piece.dueAt, now)))
    .orderBy(asc(piece.dueAt), asc(piece.id))
    .limit(BATCH);
  for (const { id, dueAt } of late)
    await hear(following, {
      seq: null,
      at: dueAt ?? now,
      about: { sort: "piece", id },
      chain: dueAt ?? now,
      events: [{ event: "due.passed" }],
    });
  const last = late.at(-1)?.dueAt;
  const more = late.length === BATCH && typeof last === "number" && last > after;
  await db.update(ruleCursor).set({ dueUpTo: more ? last : now });
  return more;
}

const CHUNK = 1_000;

/**
 * Some pieces as some rules look at them, by their ids; those that are gone are left out. Of their texts only the
 * fields are read that a condition names.
 */
export async function factsOf(
  db: Database,
  ids: readonly string[],
  places: Places,
  rules: readonly Pick<Rule, "if">[],
): Promise<Map<string, Seen>> {
  const asked = [...new Set(rules.flatMap((rule) => rule.if.flatMap((one) => one.field ?? [])))];
  const fields = Object.fromEntries(asked.map((key, i) => [`field${i}`, fieldOf(key)]));
  const seen = new Map<string, Seen>();
  for (let i = 0; i < ids.length; i += CHUNK) {
    const rows = await db
      .select({
        id: piece.id,
        sectionId: piece.sectionId,
        urgency: piece.urgency,
        kind: kind.key,
        workflow: workflow.key,
        words: version.words,
        ...fields,
      })
      .from(piece)
      .innerJoin(kind, eq(kind.id, piece.kindId))
      .innerJoin(workflowRevision, eq(workflowRevision.id, piece.workflowRevisionId))
      .innerJoin(workflow, eq(workflow.id, workflowRevision.workflowId))
      .innerJoin(version, eq(version.id, piece.currentVersionId))
      .where(and(inArray(piece.id, ids.slice(i, i + CHUNK)), isNull(piece.deletedAt)));
    for (const { id, sectionId, urgency, words, kind: kindKey, workflow: line, ...held } of rows) {
      const values = held as Record<string, string | null>;
      seen.set(id, {
        place: { kind: kindKey, workflow: line, sections: lineage(places, sectionId).map((one) => one.key) },
        facts: {
          urgency,
          words: total(words),
          fields: Object.fromEntries(asked.map((key, i) => [key, values[`field${i}`] ?? undefined])),
        },
      });
    }
  }
  return seen;
}

/** What a field holds where that is a word or a number. */
const fieldOf = (key: string) => sql<string | null>`JSON_VALUE(${version.content}, ${`$.fields."${key}"`})`;

/** A rule acts on what its maker may see, unless it did within the same chain. @returns whether it acted */
async function fire(following: Following, rule: StandingRule, about: About, chain: number): Promise<boolean> {
  const { db, now } = following.system;
  const maker = await loadViewer(db, rule.makerId, now);
  if (!maker || !(await isSeen(db, maker, about))) return false;
  const of = about.sort === "item" ? { pieceId: null, itemId: about.id } : { pieceId: about.id, itemId: null };
  const run = { id: newId(), ruleId: rule.id, ...of, chain, at: now };
  const [laid] = await db.insert(ruleRun).ignore().values(run);
  if (laid.affectedRows === 0) return false;
  await carryThrough(following, rule, run);
  return true;
}

/** Whether somebody may see what something happened to. */
async function isSeen(db: Database, who: Viewer, { sort, id }: About): Promise<boolean> {
  const rows =
    sort === "item"
      ? await db
          .select({ id: intakeItem.id })
          .from(intakeItem)
          .where(and(eq(intakeItem.id, id), itemsSeen(who)))
      : await db
          .select({ id: piece.id })
          .from(piece)
          .where(and(eq(piece.id, id), visible(who)));
  return rows.length > 0;
}

type Run = Pick<typeof ruleRun.$inferSelect, "id" | "pieceId" | "itemId" | "chain">;

async function carryThrough({ system, names }: Following, rule: StandingRule, run: Run): Promise<void> {
  const did = await doAll(system, await names(), rule, run);
  await write({ ...system, origin: originOf(run.chain, rule.key) }, async (change) => {
    const [row] = await change.tx
      .select()
      .from(ruleRun)
      .where(and(eq(ruleRun.id, run.id), isNull(ruleRun.did)))
      .for("update");
    if (!row) return accept(null);
    await change.tx.update(ruleRun).set({ did }).where(eq(ruleRun.id, run.id));
    const failed = did.some((one) => one.refused !== null);
    if (failed) await schedule(change.tx, { kind: "rule-again", subject: run.id, dueAt: change.now + AGAIN });
    const { key, name } = rule;
    change.happened(
      ruleActed,
      { key, name, did },
      { pieceId: run.pieceId ?? undefined, subjectId: rule.id, ...(failed && { tell: { maker: [rule.makerId] } }) },
    );
    return accept(null);
  });
}

/** Does all a rule says; what was done before has its key, and is not done again. */
async function doAll(
  system: Act,
  names: RuleNames,
  rule: StandingRule,
  { id, pieceId, itemId, chain }: Run,
): Promise<Did[]> {
  const did: Did[] = [];
  for (const [i, action] of rule.then.entries()) {
    const act = { ...system, personId: rule.makerId, origin: originOf(chain, rule.key), formKey: v5(String(i), id) };
    const said = sayAction(action, names, rule.when.workflow);
    try {
      const result = await (itemId === null
        ? carryOut({ act, rule, pieceId: pieceId ?? "" }, action)
        : carryOutOnComing({ act, rule, itemId }, action));
      did.push({ said, refused: result.ok ? null : result.refusal.sentence });
    } catch (error) {
      if (isDatabaseGone(error)) throw error;
      // One that breaks keeps neither the others nor the other rules.
      did.push({ said, refused: "Something went wrong with it." });
    }
  }
  return did;
}

/** So long after it failed something is tried again, twice as long each time, in milliseconds; so many times. */
const AGAIN = 10 * 60_000;
const TRIES = 5;

/**
 * Tries what a rule could not do once more, unless it was changed or switched off since.
 *
 * @returns when to try again, or null
 */
export async function tryAgain(system: Act, runId: string): Promise<number | null> {
  const { db, now } = system;
  const [run] = await db.select().from(ruleRun).where(eq(ruleRun.id, runId));
  const rule = run && (await loadRules(db)).find((one) => one.id === run.ruleId);
  if (!run?.did || !rule?.on || !rule.makerIsHere || rule.changedAt > run.at) return null;
  const did = await doAll(system, await namesHere(db), rule, run);
  const tries = run.tries + 1;
  const before = run.did;
  const mended = did.filter((one, i) => one.refused === null && before[i]?.refused !== null);
  await write({ ...system, origin: originOf(run.chain, rule.key) }, async (change) => {
    await change.tx.update(ruleRun).set({ did, tries }).where(eq(ruleRun.id, runId));
    const { key, name } = rule;
    if (mended.length > 0)
      change.happened(ruleActed, { key, name, did: mended }, { pieceId: run.pieceId ?? undefined, subjectId: rule.id });
    return accept(null);
  });
  return did.every((one) => one.refused === null) || tries >= TRIES ? null : now + AGAIN * 2 ** tries;
}
