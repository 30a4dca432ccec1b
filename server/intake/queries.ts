import { and, asc, count, desc, eq, gt, inArray, lt, ne, or, type SQL, sql } from "drizzle-orm";
import { alias } from "drizzle-orm/mysql-core";
import { missingIn } from "#core/intake/completeness.ts";
import { answersOf } from "#core/intake/form.ts";
import { tally } from "#core/intake/ideas.ts";
import { OPEN, SORTS, type Sort } from "#core/intake/item.ts";
import { takeOver } from "#core/intake/taking.ts";
import { pathName } from "#core/sections/tree.ts";
import type { Field } from "#core/text/field.ts";
import { termsOf } from "#core/words/search.ts";
import { visible } from "../access/visible.ts";
import { colleagues } from "../choices.ts";
import type { Queryable } from "../db/client.ts";
import {
  feed,
  file,
  ideaJudgement,
  intakeFile,
  intakeItem,
  intakeWord,
  person,
  piece,
  requester,
  requestForm,
} from "../db/schema/index.ts";
import { beginnings } from "../pieces/beginning.ts";
import { writersFor } from "../pieces/commission.ts";
import type { Viewer } from "../viewer.ts";
import { likeIdea } from "./ideas.ts";
import { itemsSeen, judges } from "./items.ts";

/** So many are shown on a page. */
const PAGE = 60;

/** What of the intake is looked at. */
export interface Wanted {
  /** What waits, what was settled, or the ideas on the short list. */
  show: "open" | "done" | "short";
  sort: Sort | null;
  /** Only what was given to the viewer. */
  mine: boolean;
  words: string;
  /** Where the page before ended, as its `next` says it. */
  after?: string | undefined;
}

const holder = alias(person, "holder");
const bringer = alias(person, "bringer");
const became = alias(piece, "became");
const BROUGHT_BY = sql<string | null>`COALESCE(${requester.name}, ${bringer.name}, ${feed.name}, ${intakeItem.sender})`;

const SHOWN: Record<Wanted["show"], SQL | undefined> = {
  open: inArray(intakeItem.standing, [...OPEN]),
  done: sql`${intakeItem.standing} NOT IN ('waiting', 'asked', 'unconfirmed')`,
  short: and(inArray(intakeItem.standing, [...OPEN]), eq(intakeItem.shortlisted, true)),
};

/** What came in, as a viewer may see it: what waits the oldest first, what was settled the latest first. */
export async function intakeList(db: Queryable, viewer: Viewer, wanted: Wanted) {
  const terms = termsOf(wanted.words);
  const latest = wanted.show === "done";
  const [, at = "", id = ""] = /^(\d{1,15})\.([0-9a-f-]{36})$/.exec(wanted.after ?? "") ?? [];
  const beyond = latest ? lt : gt;
  const narrowed = and(
    itemsSeen(viewer),
    SHOWN[wanted.show],
    wanted.sort === null ? undefined : eq(intakeItem.sort, wanted.sort),
    wanted.mine ? eq(intakeItem.holderId, viewer.id) : undefined,
    terms.length === 0 ? undefined : matches(terms),
    id === ""
      ? undefined
      : or(beyond(intakeItem.at, Number(at)), and(eq(intakeItem.at, Number(at)), beyond(intakeItem.id, id))),
  );
  const rows = await db
    .select({
      id: intakeItem.id,
      sort: intakeItem.sort,
      standing: intakeItem.standing,
      title: intakeItem.title,
      words: sql<string>`LEFT(${intakeItem.words}, 200)`,
      form: requestForm.name,
      from: BROUGHT_BY,
      holder: holder.name,
      sectionId: intakeItem.sectionId,
      kindId: intakeItem.kindId,
      holderId: intakeItem.holderId,
      wishedAt: intakeItem.wishedAt,
      bundle: intakeItem.bundle,
      shortlisted: intakeItem.shortlisted,
      judged:
        sql<number>`(SELECT COUNT(*) FROM ${ideaJudgement} WHERE ${ideaJudgement.itemId} = ${intakeItem.id})`.mapWith(
          Number,
        ),
      at: intakeItem.at,
      dueAt: intakeItem.dueAt,
      settledAt: intakeItem.settledAt,
      reason: intakeItem.reason,
      revision: intakeItem.revision,
      slug: became.slug,
      piece: became.title,
    })
    .from(intakeItem)
    .leftJoin(requestForm, eq(requestForm.id, intakeItem.formId))
    .leftJoin(requester, eq(requester.id, intakeItem.requesterId))
    .leftJoin(bringer, eq(bringer.id, intakeItem.byId))
    .leftJoin(holder, eq(holder.id, intakeItem.holderId))
    .leftJoin(feed, eq(feed.id, intakeItem.feedId))
    .leftJoin(became, and(eq(became.id, intakeItem.pieceId), seenPiece(viewer)))
    .where(narrowed)
    .orderBy(...(latest ? [desc(intakeItem.at), desc(intakeItem.id)] : [asc(intakeItem.at), asc(intakeItem.id)]))
    .limit(PAGE + 1);
  const shown = rows.slice(0, PAGE);
  const last = rows.length > PAGE ? shown.at(-1) : undefined;
  return {
    rows: shown.map(({ sectionId, kindId, holderId, ...row }) => ({
      ...row,
      section: sectionId === null ? null : pathName(viewer.places, sectionId),
      mine: holderId === viewer.id,
      judges: judges(viewer, { sectionId, kindId, holderId }, viewer.places, viewer.now),
    })),
    next: last ? `${last.at}.${last.id}` : null,
  };
}

/** So many ideas gathered under one word are shown. */
const GATHERED = 30;

/** The other ideas gathered under a word, the oldest first, with how each stands. */
const gatheredUnder = (db: Queryable, viewer: Viewer, bundle: string, id: string) =>
  db
    .select({
      id: intakeItem.id,
      title: intakeItem.title,
      standing: intakeItem.standing,
      reason: intakeItem.reason,
      settledAt: intakeItem.settledAt,
    })
    .from(intakeItem)
    .where(and(eq(intakeItem.bundle, bundle), ne(intakeItem.id, id), itemsSeen(viewer)))
    .orderBy(asc(intakeItem.at))
    .limit(GATHERED);

const matches = (terms: readonly string[]): SQL =>
  sql`MATCH(${intakeItem.title}, ${intakeItem.words}) AGAINST (${terms.map((term) => `+${term}*`).join(" ")} IN BOOLEAN MODE)`;

/** The condition that a piece something became is one its viewer may see. */
const seenPiece = (viewer: Viewer): SQL =>
  sql`${became.id} IN (SELECT ${piece.id} FROM ${piece} WHERE ${visible(viewer)})`;

/** How much of each sort waits, as a viewer may see it. */
export async function intakeCounts(db: Queryable, viewer: Viewer): Promise<Record<Sort, number>> {
  const rows = await db
    .select({ sort: intakeItem.sort, waits: count() })
    .from(intakeItem)
    .where(and(itemsSeen(viewer), SHOWN.open))
    .groupBy(intakeItem.sort);
  return Object.fromEntries(SORTS.map((sort) => [sort, rows.find((one) => one.sort === sort)?.waits ?? 0])) as Record<
    Sort,
    number
  >;
}

/** One thing that came in, whole, as a viewer may see it; null where they may not, or there is none. */
export async function intakePage(db: Queryable, viewer: Viewer, id: string) {
  const { places, now } = viewer;
  const [found] = await db
    .select({
      item: intakeItem,
      form: requestForm.name,
      from: BROUGHT_BY,
      email: requester.email,
      slug: became.slug,
      piece: became.title,
    })
    .from(intakeItem)
    .leftJoin(requestForm, eq(requestForm.id, intakeItem.formId))
    .leftJoin(requester, eq(requester.id, intakeItem.requesterId))
    .leftJoin(bringer, eq(bringer.id, intakeItem.byId))
    .leftJoin(feed, eq(feed.id, intakeItem.feedId))
    .leftJoin(became, and(eq(became.id, intakeItem.pieceId), seenPiece(viewer)))
    .where(and(eq(intakeItem.id, id), itemsSeen(viewer)));
  if (!found) return null;
  const { item, ...names } = found;
  const [said, judgements, like, gathered, about, writers, files] = [
    await db
      .select({
        id: intakeWord.id,
        sort: intakeWord.sort,
        by: person.name,
        words: intakeWord.words,
        changes: intakeWord.changes,
        at: intakeWord.at,
      })
      .from(intakeWord)
      .leftJoin(person, eq(person.id, intakeWord.byId))
      .where(eq(intakeWord.itemId, id))
      .orderBy(asc(intakeWord.at), asc(intakeWord.id)),
    item.sort === "idea"
      ? await db
          .select({
            personId: ideaJudgement.personId,
            name: person.name,
            answers: ideaJudgement.answers,
            note: ideaJudgement.note,
            at: ideaJudgement.at,
          })
          .from(ideaJudgement)
          .innerJoin(person, eq(person.id, ideaJudgement.personId))
          .where(eq(ideaJudgement.itemId, id))
          .orderBy(asc(ideaJudgement.at))
      : [],
    item.sort === "idea" ? await likeIdea(db, viewer, item.title, id) : { items: [], pieces: [] },
    item.bundle === null ? [] : await gatheredUnder(db, viewer, item.bundle, id),
    item.aboutId === null ? null : await aboutOf(db, viewer, item.aboutId),
    await writersFor(db, viewer),
    await db
      .select({ id: file.id, name: intakeFile.name, bytes: file.bytes })
      .from(intakeFile)
      .innerJoin(file, eq(file.id, intakeFile.fileId))
      .where(eq(intakeFile.itemId, id))
      .orderBy(asc(intakeFile.name)),
  ];
  const { questions, reasons } = places.intake;
  const mayJudge = judges(viewer, item, places, now);
  const { kinds, sections } = beginnings(viewer);
  const fields = item.fields ?? [];
  const answers = item.content ? answersOf(fields, item.content) : {};
  const theKind = kinds.find((one) => one.id === item.kindId);
  return {
    ...item,
    ...names,
    // Only who judges it learns where its sender can be reached.
    email: mayJudge ? names.email : null,
    section: item.sectionId === null ? null : pathName(places, item.sectionId),
    // A text from a feed is shown as its words; a form's answers one by one.
    answered: (item.formId === null ? [] : fields).map(({ key, name }) => ({ name, words: answers[key] ?? "" })),
    missing: item.content ? missingIn(fields, item.content) : [],
    brief: briefOf(item, theKind?.fields ?? []),
    said,
    files,
    about,
    judgements,
    tallies: item.sort === "idea" ? questions.map((one) => ({ ...one, counts: tally(one, judgements) })) : [],
    like,
    gathered,
    mayJudge,
    choices: {
      kinds: kinds.map(({ id: kindId, name }) => ({ id: kindId, name })),
      sections,
      writers,
      reasons,
      people: mayJudge ? colleagues(viewer) : [],
    },
  };
}

/** What whoever writes it is told from the start: what a form's answers have no field for, an idea's outline, a source. */
function briefOf(
  { content, fields, words, sort, source, sender }: typeof intakeItem.$inferSelect,
  into: readonly Field[],
): string {
  if (sort === "material")
    return source !== null ? `Source: ${source}` : sender ? `By mail, said to be from ${sender}` : "";
  return content ? takeOver(fields ?? [], content, into).brief : words;
}

/** The released piece a reader spoke of; null where the viewer may not see it in the workshop. */
async function aboutOf(db: Queryable, viewer: Viewer, pieceId: string) {
  const [row] = await db
    .select({ slug: piece.slug, title: piece.title })
    .from(piece)
    .where(and(eq(piece.id, pieceId), visible(viewer)));
  return row ?? null;
}

/** What came in and became of a piece, or is said about it by readers, the latest first: what its page shows. */
export async function broughtTo(db: Queryable, viewer: Viewer, pieceId: string) {
  return db
    .select({
      id: intakeItem.id,
      sort: intakeItem.sort,
      standing: intakeItem.standing,
      title: intakeItem.title,
      at: intakeItem.at,
    })
    .from(intakeItem)
    .where(and(or(eq(intakeItem.pieceId, pieceId), eq(intakeItem.aboutId, pieceId)), itemsSeen(viewer)))
    .orderBy(desc(intakeItem.at))
    .limit(20);
}

/** A file that came along with something a viewer may see; null where there is none. */
export async function fileAlong(db: Queryable, viewer: Viewer, itemId: string, fileId: string) {
  const [row] = await db
    .select({ id: file.id, name: intakeFile.name, mediaType: file.mediaType, width: file.width, height: file.height })
    .from(intakeFile)
    .innerJoin(file, eq(file.id, intakeFile.fileId))
    .innerJoin(intakeItem, eq(intakeItem.id, intakeFile.itemId))
    .where(and(eq(intakeFile.itemId, itemId), eq(intakeFile.fileId, fileId), itemsSeen(viewer)));
  return row ?? null;
}
