import { and, eq } from "drizzle-orm";
import type { EventKind, Happening } from "#core/events/event.ts";
import { type Refusal, type Result, refuse } from "#core/refusal.ts";
import { loadHolder, type Person } from "./access/holders.ts";
import type { Database, Transaction } from "./db/client.ts";
import { pastCollisions } from "./db/collisions.ts";
import { formAnswer } from "./db/schema/index.ts";
import { appendToLedger } from "./ledger/append.ts";
import { deliver } from "./notices/deliver.ts";
import { type Letter, postLetters } from "./notices/letters.ts";
import { decipher, encipher } from "./people/secrets.ts";
import { schedule } from "./tasks/schedule.ts";

/** Who asks for a write, when, and from where. */
export interface Act {
  db: Database;
  /** Null for the system's own jobs. */
  personId: string | null;
  /** Epoch milliseconds; the whole write happens at this instant. */
  now: number;
  origin: string;
  requestId: string;
  /** The form's idempotency key: the same key twice gives the first answer. */
  formKey?: string | undefined;
  /** The address links in mails begin with, without a slash at the end. */
  baseUrl: string;
  /** The folder in which files are kept. */
  files: string;
  /** Whom the person looks as, by name: until they leave, nothing can be changed. */
  seeingAs?: string | undefined;
  /** The bundle of pieces it is part of: what it tells goes along with what the others tell. */
  batch?: string | undefined;
  /** Told what would happen, and then nothing of it has: the write is rolled back. */
  imagines?: ((happenings: readonly Happening[]) => void) | undefined;
  /** Whether who acts proved lately who they are; without it access is not touched. */
  proven: boolean;
}

/** Who is told a part of an event: a person's id, or with what their notice says beyond it. */
export type Recipient = string | { to: string; params: Record<string, unknown> };

/** What an event was about, and who is told of it. */
export interface About<T extends string> {
  pieceId?: string | undefined;
  subjectId?: string | undefined;
  /** On whose behalf, when a stand-in acts. */
  forId?: string | null | undefined;
  before?: unknown;
  /** Never the person who acts, whoever is named; and each person once for a whole write. */
  tell?: { [Part in T]?: readonly Recipient[] };
}

/** A write under way: the rows it may touch, and what it leaves on record. */
export interface Change {
  tx: Transaction;
  files: string;
  now: number;
  /** The person acting, as they stand inside the transaction; null for a job. */
  actor: Person | null;
  /** Says that something happened: from this come the ledger's entry and the notices. */
  happened<P, T extends string>(kind: EventKind<P, T>, payload: NoInfer<P>, about?: About<T>): void;
  /** Sends mail that is no notice: what opens an account. */
  post(letter: Letter): void;
  /** The same write, as if it were one of its own to those it tells: for each of many pieces done at once. */
  apart(): Change;
}

const DUPLICATE = 1062;

class Rollback extends Error {
  constructor(readonly refusal: Refusal) {
    super(refusal.code);
  }
}

class Imagined extends Error {
  constructor(readonly result: Result<unknown>) {
    super("imagined");
  }
}

/** Why nothing can be changed, nor a password tried, while one sees as somebody else; null where one does not. */
export const whyOnlyLooking = ({ seeingAs }: Act): Refusal | null =>
  seeingAs === undefined
    ? null
    : {
        code: "seeing-as",
        sentence: `You are looking as ${seeingAs}: nothing can be changed until you leave.`,
      };

/** Why access, factors and sessions are not touched until who acts has proved anew who they are; null where they have. */
export const whyUnproven = ({ proven }: Act): Refusal | null =>
  proven ? null : { code: "prove", sentence: "It is a while since you gave your password. Give it once more." };

/**
 * The one path of a write: opens the transaction, checks the actor, runs the command, appends the
 * ledger entries, notices and mail, commits; retries what a lock or a cluster turned away. A
 * refusal rolls everything back.
 *
 * @param work the command; it may run more than once and must touch nothing but `change.tx`
 */
export async function write<T>(act: Act, work: (change: Change) => Promise<Result<T>>): Promise<Result<T>> {
  const looking = whyOnlyLooking(act);
  if (looking) return refuse(looking);
  try {
    return await pastCollisions(
      () => act.db.transaction((tx) => once(act, tx, work)),
      (number) => number === DUPLICATE && act.formKey !== undefined,
    );
  } catch (error) {
    if (error instanceof Rollback) return refuse(error.refusal);
    if (error instanceof Imagined) return error.result as Result<T>;
    throw error;
  }
}

async function once<T>(act: Act, tx: Transaction, work: (change: Change) => Promise<Result<T>>): Promise<Result<T>> {
  const actor = act.personId ? await loadHolder(tx, act.personId) : null;
  if (act.personId && !actor?.active)
    throw new Rollback({ code: "ended", sentence: "Your access has ended. Ask the managing editor." });
  const earlier = await firstAnswer(act, tx);
  if (earlier) return earlier as Result<T>;

  const parts: Happening[][] = [];
  const letters: Letter[] = [];
  const begin = (): Change => {
    const happenings: Happening[] = [];
    parts.push(happenings);
    return {
      tx,
      files: act.files,
      now: act.now,
      actor,
      happened: (kind, payload, about = {}) =>
        void happenings.push(happening(kind as unknown as EventKind, payload, about)),
      post: (letter) => void letters.push(letter),
      apart: begin,
    };
  };
  const result = await work(begin());
  if (!result.ok) throw new Rollback(result.refusal);
  if (act.imagines) {
    act.imagines(parts.flat());
    throw new Imagined(result);
  }
  if (act.formKey && actor) {
    await tx
      .insert(formAnswer)
      .values({ key: act.formKey, personId: actor.id, answer: encipher(JSON.stringify(result)), at: act.now });
  }
  const happenings = parts.flat();
  if (happenings.length > 0) {
    const last = await appendToLedger(tx, act, happenings);
    await deliver(tx, act, last - happenings.length + 1, parts);
    const reworded = happenings.flatMap(({ kind, pieceId }) => (kind.words && pieceId ? [pieceId] : []));
    for (const subject of new Set(reworded)) await schedule(tx, { kind: "search", subject, dueAt: act.now });
  }
  await postLetters(tx, act.now, letters);
  return result;
}

/** @throws ZodError where the payload is not what the event keeps: a bug */
function happening(kind: EventKind, payload: unknown, { tell = {}, ...about }: About<string>): Happening {
  const told = Object.entries(tell).flatMap(([part, recipients = []]) => {
    const plain = recipients.filter((one) => typeof one === "string");
    const own = recipients.filter((one) => typeof one !== "string");
    return [
      ...(plain.length > 0 ? [{ part, to: plain, params: null }] : []),
      ...own.map(({ to, params }) => ({ part, to: [to], params })),
    ];
  });
  return { kind, payload: kind.payload.parse(payload), ...about, told };
}

async function firstAnswer(act: Act, tx: Transaction): Promise<unknown> {
  if (!act.formKey || !act.personId) return null;
  const [row] = await tx
    .select({ answer: formAnswer.answer })
    .from(formAnswer)
    .where(and(eq(formAnswer.key, act.formKey), eq(formAnswer.personId, act.personId)));
  return row ? JSON.parse(decipher(row.answer)) : null;
}
