import { createHmac } from "node:crypto";
import { eq } from "drizzle-orm";
import { ruleCall } from "#server/db/schema/index.ts";
import { remark } from "#server/remarks/commands.ts";
import { callSecret, callsOf, makeCall } from "#server/rules/calls.ts";
import { ruleInput, saveRule } from "#server/rules/commands.ts";
import { followLedger } from "#server/rules/follow.ts";
import { loadRules } from "#server/rules/rows.ts";
import { outside } from "../support/outside.ts";
import { accepted, begin, codeOf, heard, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  await follow();
});
afterEach(() => world.close());

const MINUTE = 60_000;
async function follow(base = "http://elenco.test"): Promise<void> {
  const system = { ...world.act(null), baseUrl: base, origin: "job rules" };
  for (let i = 0; i < 20; i++) if (!(await followLedger(system))) return;
}

const calling = (base: string, url: string) =>
  saveRule(
    { ...world.act("ilda"), baseUrl: base },
    ruleInput.parse({
      rule: JSON.stringify({
        name: "Tells them",
        on: true,
        when: { event: "comment.made" },
        then: [{ do: "call", url }],
      }),
    }),
  );

/** A rule that calls the stand-in at an address acted once. @returns the call laid down */
async function called(base: string) {
  accepted(await calling(base, `${base}/standins/calls`));
  const { id } = await begin(world, "The bridge at Ponte Scuro");
  accepted(await remark(world.act("wim"), { pieceId: id, body: "One thing." }));
  await follow(base);
  await follow(base);
  const calls = await world.db.select().from(ruleCall);
  expect(calls).toHaveLength(1);
  return { pieceId: id, id: calls[0]?.id ?? "" };
}

const look = async (id: string) => (await world.db.select().from(ruleCall).where(eq(ruleCall.id, id)))[0];

test("a rule calls an outside service once, with what happened, signed so that it is known to be us", async () => {
  const { heard: got, base, stop } = await outside([200]);
  const { id } = await called(base);
  const act = { ...world.act(null, MORNING + MINUTE), baseUrl: base };
  expect(await makeCall(act, id, true)).toBeNull();
  expect(await makeCall(act, id, true)).toBeNull();
  expect(got).toHaveLength(1);
  const [{ body, headers } = { body: "", headers: {} as Record<string, string> }] = got;
  expect(JSON.parse(body)).toMatchObject({
    id,
    event: "comment.made",
    rule: { name: "Tells them" },
    piece: { title: "The bridge at Ponte Scuro", kind: "bulletin-item", section: "bulletin", state: "draft" },
  });
  const [rule] = await loadRules(world.db);
  const at = headers["elenco-timestamp"];
  expect(Number(at)).toBe(Math.floor((MORNING + MINUTE) / 1000));
  const signature = createHmac("sha256", callSecret(rule?.id ?? ""))
    .update(`${at}.${body}`)
    .digest("hex");
  expect(headers["elenco-signature"]).toBe(signature);
  expect(await look(id)).toMatchObject({ status: "taken", attempts: 1 });
  expect(await callsOf(world.db, await world.viewer("ilda"), rule?.id ?? "")).toMatchObject([{ status: "taken" }]);
  stop();
});

test.each<[string, number[], "waiting" | "taken" | "given-up", number, string]>([
  ["is broken for a while", [500, 503, 200], "taken", 3, "it answered 200"],
  ["turns it away", [404], "given-up", 1, "it answered 404"],
  ["leads elsewhere", [302], "given-up", 1, "it answered 302"],
  ["stays broken", Array(9).fill(503), "given-up", 7, "it answered 503"],
])("a service that %s", async (_, answers, status, attempts, answer) => {
  const { base, stop } = await outside(answers);
  const { id, pieceId } = await called(base);
  let now: number | null = MORNING;
  const rests: number[] = [];
  while (now !== null) {
    const next: number | null = await makeCall({ ...world.act(null, now), baseUrl: base }, id, true);
    if (next !== null) rests.push((next - now) / MINUTE);
    now = next;
  }
  expect(await look(id)).toMatchObject({ status, attempts, answer });
  expect(rests).toEqual([1, 2, 4, 8, 16, 32].slice(0, attempts - 1));
  const told = (await heard(world, "ilda", pieceId)).filter((one) => one.headline.includes("in vain"));
  expect(told).toHaveLength(status === "given-up" ? 1 : 0);
  stop();
});

test("nothing within the house is called, neither when it is named nor when it is called", async () => {
  for (const url of ["http://127.0.0.1:9/", "https://localhost/x", "https://10.0.0.1/hook", "http://service.example/"])
    expect([url, codeOf(await calling("http://elenco.test", url))]).toEqual([url, "address"]);
  const { base, stop, heard: got } = await outside([200]);
  const { id } = await called(base);
  // Without stand-ins the very same address lies within.
  expect(await makeCall({ ...world.act(null), baseUrl: base }, id, false)).toBeNull();
  expect(await look(id)).toMatchObject({ status: "given-up" });
  expect(got).toEqual([]);
  stop();
});
