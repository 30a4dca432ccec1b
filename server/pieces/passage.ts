import { and, asc, eq, notInArray } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { sayEvent } from "#core/events/catalogue.ts";
import { versionSaved } from "#core/events/text.ts";
import { chainOf } from "#core/rules/origin.ts";
import { stateOf, type Workflow } from "#core/workflow/document.ts";
import { visible } from "../access/visible.ts";
import type { Queryable } from "../db/client.ts";
import { ledger, person, piece, stay } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";
import { type RoundTold, roundsOf } from "../review/history.ts";
import type { Viewer } from "../viewer.ts";

/** So many entries of one piece's record are told; nobody reads more. */
const TOLD = 5_000;
/** What is no step of a piece's passage, however often it happens. */
const QUIET = [versionSaved.name, "round.opened"];

/** Something that happened while a piece was at a stop. */
export interface Told {
  at: number;
  who: string | null;
  for: string | null;
  words: string;
  note: string;
}

/** One stay of a piece at a stop: how it came, how long it was there, what happened meanwhile. */
export interface Stopped {
  state: string;
  name: string;
  arrivedAt: number;
  leftAt: number | null;
  step: string | null;
  by: string | null;
  note: string;
  rounds: RoundTold[];
  told: Told[];
}

/**
 * A piece's whole passage since it began, oldest first, however many saves lie between; null where the
 * viewer sees no such piece.
 */
export async function passageOf(db: Queryable, viewer: Viewer, slug: string) {
  const [row] = await db
    .select({ id: piece.id, title: piece.title, slug: piece.slug })
    .from(piece)
    .where(and(visible(viewer), eq(piece.slug, slug)));
  if (!row) return null;
  const absent = alias(person, "absent");
  const [stays, entries, rounds] = await Promise.all([
    db
      .select({ stay, by: person.name })
      .from(stay)
      .leftJoin(person, eq(person.id, stay.byId))
      .where(eq(stay.pieceId, row.id))
      .orderBy(asc(stay.arrivedAt), asc(stay.id)),
    db
      .select({
        at: ledger.at,
        action: ledger.action,
        after: ledger.after,
        origin: ledger.origin,
        who: person.name,
        for: absent.name,
      })
      .from(ledger)
      .leftJoin(person, eq(person.id, ledger.actorId))
      .leftJoin(absent, eq(absent.id, ledger.forId))
      .where(and(eq(ledger.pieceId, row.id), notInArray(ledger.action, QUIET)))
      .orderBy(asc(ledger.seq))
      .limit(TOLD),
    roundsOf(db, row.id),
  ]);
  const documents = await loadDocuments(
    db,
    stays.map((one) => one.stay.workflowRevisionId),
  );
  const steps = stays.map(({ stay: one, by }, i): Stopped => {
    const until = stays[i + 1]?.stay.arrivedAt ?? Number.POSITIVE_INFINITY;
    const during = ({ at }: { at: number }) => at < until && (i === 0 || at >= one.arrivedAt);
    const workflow = documents.get(one.workflowRevisionId) as Workflow;
    return {
      state: one.stateKey,
      name: stateOf(workflow, one.stateKey).name,
      arrivedAt: one.arrivedAt,
      leftAt: one.leftAt,
      step: one.step,
      by,
      note: one.note,
      rounds: rounds.filter(({ openedAt }) => during({ at: openedAt })),
      told: entries.filter(during).map(({ action, after, origin, who, ...rest }) => ({
        who: who !== null && chainOf(origin) !== null ? `A rule of ${who}` : who,
        ...rest,
        words: sayEvent(action, after),
        note: (after as { note?: string } | null)?.note ?? "",
      })),
    };
  });
  return { ...row, steps };
}

export type Passage = NonNullable<Awaited<ReturnType<typeof passageOf>>>;
