import { eq, sql } from "drizzle-orm";
import { z } from "zod";
import { ruleChanged, ruleDeleted, ruleSwitched } from "#core/events/rules.ts";
import { accept, type Refusal, type Result, refuse } from "#core/refusal.ts";
import { checkRules } from "#core/rules/check.ts";
import { canDo, NO_PIECE_YET, type Rule, ruleSchema, type rulesSchema } from "#core/rules/document.ts";
import { freeKey } from "#core/words/keys.ts";
import { type Administering, administering } from "../access/administer.ts";
import type { Transaction } from "../db/client.ts";
import { newId } from "../db/schema/columns.ts";
import { ledgerTail, rule } from "../db/schema/index.ts";
import { whyNotAddress } from "../outside/send.ts";
import { inJson } from "../piece/input.ts";
import type { Act } from "../write.ts";
import { standInService } from "./calls.ts";
import { knownHere, loadRules } from "./rows.ts";

/** So many rules a publication has. */
const MOST = 200;

/** A rule as its form sends it: without a key where it is new. */
export const ruleInput = z.object({
  id: z.union([z.literal("").transform(() => null), z.uuid()]).default(null),
  revision: z.coerce.number().int().default(0),
  rule: inJson(ruleSchema.omit({ key: true })),
});

const STALE: Refusal = { code: "stale", sentence: "Somebody changed this rule meanwhile. Look at it as it is now." };

/** Says what a rule does, anew or for the first time. One with something wrong in it is kept, and stays off. */
export function saveRule(act: Act, wanted: z.output<typeof ruleInput>): Promise<Result<{ key: string; on: boolean }>> {
  return administering(act, "workflow.edit", async (change) => {
    const { tx, now, actor } = change;
    const known = await locked(change);
    const row = known.find((one) => one.id === wanted.id);
    if (wanted.id !== null && row?.revision !== wanted.revision) return refuse(STALE);
    if (!row && known.length >= MOST)
      return refuse({ code: "full", sentence: `There are ${MOST} rules already. Do away with one first.` });
    const key = row?.key ?? freeKey(wanted.rule.name, known, "rule");
    const next: Rule = { ...wanted.rule, key };
    const amiss =
      whyNotDone(next) ?? whyNotCalled(act, next) ?? (next.on ? await faultsWith(change, known, next) : null);
    if (amiss) return refuse(amiss);
    const { name, on, when: hears, if: asks, then: does } = next;
    const since = await endOfLedger(tx);
    const set = {
      name,
      on,
      hears,
      asks,
      does,
      makerId: actor.id,
      changedAt: now,
      since,
      revision: (row?.revision ?? 0) + 1,
    };
    const id = row?.id ?? newId();
    await tx
      .insert(rule)
      .values({ id, key, ...set })
      .onDuplicateKeyUpdate({ set });
    change.happened(ruleChanged, { key, name, on, rule: next }, { subjectId: id, before: row ?? null });
    return accept({ key, on });
  });
}

export const switchInput = z.object({ id: z.uuid(), on: z.stringbool() });

/** Switches a rule on, where nothing is wrong with it, or off, at once. Who switches it on answers for what it does. */
export function switchRule(act: Act, { id, on }: z.output<typeof switchInput>): Promise<Result<null>> {
  return administering(act, "workflow.edit", async (change) => {
    const known = await locked(change);
    const row = known.find((one) => one.id === id);
    if (!row) return refuse(GONE);
    const amiss = on
      ? (whyNotDone(row) ?? whyNotCalled(act, row) ?? (await faultsWith(change, known, { ...row, on })))
      : null;
    if (amiss) return refuse(amiss);
    const makerId = on ? change.actor.id : row.makerId;
    await change.tx
      .update(rule)
      .set({
        on,
        makerId,
        revision: sql`${rule.revision} + 1`,
        changedAt: change.now,
        since: await endOfLedger(change.tx),
      })
      .where(eq(rule.id, id));
    change.happened(ruleSwitched, { key: row.key, name: row.name, on }, { subjectId: id });
    return accept(null);
  });
}

export const ofRule = z.object({ id: z.uuid() });

const GONE: Refusal = { code: "not-found", sentence: "There is no such rule any more." };

/** Does away with a rule, and with what it noted of its acts; what it did stays. */
export function deleteRule(act: Act, { id }: z.output<typeof ofRule>): Promise<Result<null>> {
  return administering(act, "workflow.edit", async (change) => {
    const row = (await locked(change)).find((one) => one.id === id);
    if (!row) return refuse(GONE);
    await change.tx.delete(rule).where(eq(rule.id, id));
    change.happened(ruleDeleted, { key: row.key, name: row.name }, { subjectId: id });
    return accept(null);
  });
}

/** Brings rules in out of a document, all of them off: each is looked at before it is switched on. */
export function bringInRules(act: Act, document: z.output<typeof rulesSchema>): Promise<Result<{ count: number }>> {
  return administering(act, "workflow.edit", async (change) => {
    const known = await locked(change);
    if (known.length + document.rules.length > MOST)
      return refuse({ code: "full", sentence: `With these there would be more than ${MOST} rules.` });
    const keys: { key: string }[] = [...known];
    for (const one of document.rules) {
      const key = freeKey(one.key, keys, "rule");
      const { name, when: hears, if: asks, then: does } = one;
      const row = {
        id: newId(),
        key,
        name,
        hears,
        asks,
        does,
        on: false,
        makerId: change.actor.id,
        changedAt: change.now,
        since: 0,
      };
      await change.tx.insert(rule).values(row);
      keys.push({ key });
      change.happened(ruleChanged, { key, name, on: false, rule: { ...one, key, on: false } }, { subjectId: row.id });
    }
    return accept({ count: document.rules.length });
  });
}

/** The number of the last entry that is committed. */
async function endOfLedger(tx: Transaction): Promise<number> {
  const [tail] = await tx.select({ seq: ledgerTail.seq }).from(ledgerTail);
  return tail?.seq ?? 0;
}

/** The rules there are, one change of them at a time. */
async function locked({ tx }: Administering) {
  await tx.select({ id: rule.id }).from(rule).for("update");
  return loadRules(tx);
}

/** Why a rule cannot do what it says to what it waits for, or null. */
function whyNotDone({ when, then }: Pick<Rule, "when" | "then">): Refusal | null {
  if (then.every((action) => canDo(when.event, action.do))) return null;
  return { code: "no-piece", field: "rule", sentence: NO_PIECE_YET };
}

/** Why a rule may not call whom it says, or null; the stand-in for an outside service is called where those are on. */
function whyNotCalled({ baseUrl }: Act, { then }: Pick<Rule, "then">): Refusal | null {
  const urls = then.flatMap((action) => (action.do === "call" ? [action.url] : []));
  const closed = urls.map((url) => whyNotAddress(url, standInService(baseUrl))).find((why) => why !== null);
  return closed ? { code: "address", field: "rule", sentence: closed } : null;
}

/** What keeps a rule from being switched on beside the others, or null. */
async function faultsWith({ tx }: Administering, known: readonly Rule[], next: Rule): Promise<Refusal | null> {
  const others = known.filter((one) => one.key !== next.key && one.on);
  const found = checkRules([...others, next], await knownHere(tx));
  const concerns = found.filter(
    ({ severity, at, witness }) => severity === "error" && (at?.rule === next.key || witness?.rules.includes(next.key)),
  );
  const [first, ...rest] = concerns;
  if (!first) return null;
  const say = (message: string) => message.charAt(0).toUpperCase() + message.slice(1);
  return { code: first.code, sentence: say(first.message), missing: rest.map((one) => say(one.message)) };
}
