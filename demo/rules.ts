import { and, asc, eq, isNotNull, isNull } from "drizzle-orm";
import { type Rule, rulesSchema } from "#core/rules/document.ts";
import type { Database } from "#server/db/client.ts";
import { kind, piece, ruleCall, task } from "#server/db/schema/index.ts";
import { remark } from "#server/remarks/commands.ts";
import { layCall } from "#server/rules/calls.ts";
import { bringInRules, switchRule } from "#server/rules/commands.ts";
import { followLedger } from "#server/rules/follow.ts";
import { loadRules } from "#server/rules/rows.ts";
import type { Act } from "#server/write.ts";

type As = (who: string, now: number) => Act;

const STANDING: Omit<Rule, "on">[] = [
  {
    key: "urgent-notice",
    name: "An urgent notice wakes the safety officer",
    when: { event: "piece.arrived", state: "safety-check", workflow: "safety-notice" },
    if: [{ fact: "urgency", is: "urgent" }],
    then: [
      { do: "due", in: "4wh" },
      { do: "notify", to: ["author"], text: "{{piece.title}} is with the safety officer." },
    ],
  },
  {
    key: "question-on-a-hut",
    name: "A remark on a hut page is due the next day",
    when: { event: "comment.made", kind: "hut-page", workflow: "hut-page" },
    if: [],
    then: [{ do: "due", in: "1wd" }],
  },
  {
    key: "late",
    name: "Who is late hears of it, and so does the desk",
    when: { event: "due.passed" },
    if: [],
    then: [{ do: "notify", to: ["assignee", "role:chief"], text: "{{piece.title}} is past its due date." }],
  },
  {
    key: "long-item",
    name: "A long bulletin item is remarked on",
    when: { event: "piece.arrived", state: "copy-edit", kind: "bulletin-item" },
    if: [{ fact: "words", over: 80 }],
    then: [{ do: "comment", text: "This is long for the bulletin. Could it lose a sentence?" }],
  },
  {
    key: "rescue-desk",
    name: "What is out for safety is told to the rescue desk",
    when: { event: "release.done", kind: "safety-notice" },
    if: [],
    then: [{ do: "call", url: "https://desk.rescue.example/notices" }],
  },
];

/** A call of the rescue desk that nobody answered. */
async function failCall(db: Database, act: Act): Promise<void> {
  const rule = (await loadRules(db)).find((one) => one.key === "rescue-desk");
  const [notice] = await db
    .select({ id: piece.id })
    .from(piece)
    .innerJoin(kind, eq(kind.id, piece.kindId))
    .where(and(eq(kind.key, "safety-notice"), isNotNull(piece.liveVersionId)))
    .orderBy(asc(piece.id))
    .limit(1);
  const [called] = rule?.then ?? [];
  if (!rule || !notice || called?.do !== "call") return;
  await layCall(act, rule, notice.id, called.url);
  const answer = "getaddrinfo ENOTFOUND desk.rescue.example";
  await db.update(ruleCall).set({ status: "given-up", attempts: 7, answer }).where(eq(ruleCall.ruleId, rule.id));
  await db.delete(task).where(eq(task.kind, "call"));
}

const ON = ["urgent-notice", "question-on-a-hut", "rescue-desk"];

/** Standing rules: two that act, one of which has, and two that wait to be switched on. */
export async function layRules(db: Database, act: As, now: number): Promise<void> {
  const rules = rulesSchema.parse({ format: "elenco.rules/1", rules: STANDING }).rules;
  await bringInRules(act("ilda", now), { format: "elenco.rules/1", rules });
  for (const { id, key } of await loadRules(db))
    if (ON.includes(key)) await switchRule(act("ilda", now), { id, on: true });
  const system = { ...act("ilda", now), personId: null, origin: "job rules" };
  await followLedger(system);
  const huts = await db
    .select({ id: piece.id })
    .from(piece)
    .where(and(eq(piece.inFlight, true), eq(piece.stateKey, "copy-edit"), isNull(piece.deletedAt)))
    .orderBy(asc(piece.id))
    .limit(8);
  for (const { id } of huts)
    await remark(act("petra", now), { pieceId: id, body: "Is the telephone number still right?" });
  while (await followLedger(system));
  await failCall(db, act("ilda", now));
}
