import { asc, eq } from "drizzle-orm";
import { entryHash, GENESIS, hashOf } from "#core/ledger/chain.ts";
import { countFields } from "#core/text/fields.ts";
import { type State, stateOf, type Workflow } from "#core/workflow/document.ts";
import { chance, content, pick, title } from "#demo/texts.ts";
import type { Database } from "#server/db/client.ts";
import { newId } from "#server/db/schema/columns.ts";
import {
  kind,
  ledger,
  ledgerTail,
  person,
  piece,
  released,
  round,
  seat,
  section,
  stay,
  version,
  workflow,
} from "#server/db/schema/index.ts";
import { loadDocuments } from "#server/piece/documents.ts";

const DAY = 86_400_000;
const BATCH = 1_000;
const STATES: [string, number][] = [
  ["draft", 0.08],
  ["route-check", 0.06],
  ["copy-edit", 0.05],
  ["safety-sign-off", 0.03],
  ["ready", 0.03],
  ["live", 0.75],
];
/** One in so many open seats is Wim's: about forty wait on him, as on a busy checker. */
const WIMS_SHARE = 30;

/** Fills a publication with pieces on the route guide's workflow and a ledger of this many entries. */
export async function generate(db: Database, now: number, pieces: number, entries: number): Promise<void> {
  const random = chance(1);
  const [revision] = await db
    .select({ id: workflow.currentRevisionId })
    .from(workflow)
    .where(eq(workflow.key, "route-guide"));
  const revisionId = revision?.id ?? "";
  const document = (await loadDocuments(db, [revisionId])).get(revisionId) as Workflow;
  const [kindRow] = await db.select().from(kind).where(eq(kind.key, "route-guide"));
  const sections = (await db.select().from(section)).filter((one) =>
    ["high-routes", "family-walks", "winter"].includes(one.key),
  );
  const people = await db.select({ id: person.id, key: person.key }).from(person).orderBy(asc(person.id));
  const id = (key: string) => people.find((one) => one.key === key)?.id as string;
  const texts = Array.from({ length: 50 }, (_, i) =>
    content("route-guide", title("route-guide", i), "2026-11-24", random),
  ).map((one) => ({ content: one, hash: hashOf(one), words: countFields(one) }));

  const ids: string[] = [];
  for (let done = 0; done < pieces; done += BATCH) {
    const rows = Array.from({ length: Math.min(BATCH, pieces - done) }, (_, i) => {
      const state = stateOf(document, stateFor(random()));
      const live = state.kind === "live";
      const since = Math.round(now - random() * (live ? 900 : 12) * DAY);
      const text = pick(texts, random);
      const pieceId = newId();
      const versionId = newId();
      return {
        state,
        live,
        since,
        text,
        pieceId,
        versionId,
        n: done + i,
        authorId: id(pick(["tobia", "noor", "mina"], random)),
        sectionId: pick(sections, random).id,
      };
    });
    ids.push(...rows.map((row) => row.pieceId));
    await db.insert(version).values(
      rows.map((row) => ({
        id: row.versionId,
        pieceId: row.pieceId,
        number: 1,
        ...row.text,
        boundHash: row.text.hash,
        authorId: row.authorId,
        createdAt: row.since,
      })),
    );
    await db.insert(piece).values(
      rows.map((row) => ({
        id: row.pieceId,
        slug: `piece-${row.n}`,
        title: `${row.text.content.title} ${row.n}`,
        sectionId: row.sectionId,
        kindId: kindRow?.id ?? "",
        authorId: row.authorId,
        workflowRevisionId: revisionId,
        stateKey: row.state.key,
        stateKind: row.state.kind,
        since: row.since,
        dueAt: row.live ? null : row.since + 9 * DAY,
        currentVersionId: row.versionId,
        approvedVersionId: row.state.kind === "ready" || row.live ? row.versionId : null,
        ...(row.live ? { liveVersionId: row.versionId, liveAt: row.since, firstLiveAt: row.since } : {}),
        createdAt: row.since,
      })),
    );
    await db.insert(released).values(
      rows
        .filter((row) => row.live)
        .map((row) => ({
          id: newId(),
          pieceId: row.pieceId,
          channel: "site" as const,
          versionId: row.versionId,
          from: row.since,
        })),
    );
    await db.insert(stay).values(
      rows.flatMap((row) =>
        staysOf(document, row, {
          workflowRevisionId: revisionId,
          sectionId: row.sectionId,
          kindId: kindRow?.id ?? "",
        }),
      ),
    );
    const reviews = rows.filter((row) => row.state.review);
    const rounds = reviews.map((row) => ({
      id: newId(),
      pieceId: row.pieceId,
      number: 1,
      stateKey: row.state.key,
      rule: "any" as const,
      count: 1,
      versionId: row.versionId,
      senderId: row.authorId,
      note: "Please look.",
      openedAt: row.since,
      dueAt: row.since + 9 * DAY,
    }));
    await db.insert(round).values(rounds);
    await db.insert(seat).values(
      rounds.map((one, i) => ({
        id: newId(),
        roundId: one.id,
        pieceId: one.pieceId,
        position: 0,
        personId: id(i % WIMS_SHARE === 0 ? "wim" : "jorun"),
        status: "open" as const,
      })),
    );
  }
  await generateLedger(db, ids, entries, now);
}

function stateFor(share: number): string {
  let left = share;
  for (const [key, part] of STATES) {
    left -= part;
    if (left < 0) return key;
  }
  return "live";
}

function staysOf(
  document: Workflow,
  { pieceId, state, since }: { pieceId: string; state: State; since: number },
  belongs: { workflowRevisionId: string; sectionId: string; kindId: string },
) {
  const way = document.mainLine.slice(0, document.mainLine.indexOf(state.key) + 1);
  return way.map((stateKey, i) => {
    const arrivedAt = since - (way.length - 1 - i) * 2 * DAY;
    return {
      id: newId(),
      pieceId,
      stateKey,
      ...belongs,
      arrivedAt,
      leftAt: i === way.length - 1 ? null : arrivedAt + 2 * DAY,
      note: "",
    };
  });
}

async function generateLedger(db: Database, ids: readonly string[], entries: number, now: number): Promise<void> {
  const [tail] = await db.select().from(ledgerTail);
  let { seq, hash } = tail ?? { seq: 0, hash: GENESIS };
  const first = seq;
  while (seq < entries) {
    const rows = Array.from({ length: Math.min(BATCH * 2, entries - seq) }, () => {
      seq += 1;
      const entry = {
        seq,
        at: now - (entries - seq) * 1000,
        actorId: null,
        forId: null,
        action: "version.saved",
        pieceId: ids[(seq - first) % ids.length] as string,
        subjectId: null,
        before: null,
        after: { version: 1, fields: ["body"] },
        origin: "bench",
        requestId: "bench",
      };
      const previous = hash;
      hash = entryHash(entry, previous);
      return { ...entry, previous, hash };
    });
    await db.insert(ledger).values(rows);
  }
  await db.update(ledgerTail).set({ seq, hash });
}
