import { decide } from "#server/passage/deciding.ts";
import { passageOf } from "#server/pieces/passage.ts";
import { inPlaceOf } from "#server/reader/in-place.ts";
import { remark } from "#server/remarks/commands.ts";
import { accepted, begin, bindReview, look, MORNING, makeWorld, save, send, type World } from "../support/world.ts";

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await bindReview(world, "all", [{ person: "wim" }, { person: "petra" }]);
});
afterAll(() => world.close());

const MINUTE = 60_000;

test("the whole passage, stop by stop, however many saves lie between; and nothing of it for who does not see the piece", async () => {
  const { id } = await begin(world);
  for (let i = 1; i <= 30; i++)
    accepted(await save(world, id, "tobia", `Text ${i}.`, undefined, MORNING + i * 11 * MINUTE));
  const sentAt = MORNING + 400 * MINUTE;
  accepted(await send(world, id, "tobia", "send", { note: "First draft.", now: sentAt }));
  accepted(await remark(world.act("wim", sentAt + MINUTE), { pieceId: id, body: "Which text?" }));
  const { hash } = (await look(world, id)).version;
  const backAt = sentAt + 60 * MINUTE;
  const back = { pieceId: id, versionHash: hash, verdict: "return" as const, note: "Say which." };
  accepted(await decide(world.act("wim", backAt), back));
  const { slug } = (await look(world, id)).piece;
  const passage = await passageOf(world.db, await world.viewer("tobia"), slug);
  expect(passage?.steps.map(({ name, arrivedAt, leftAt, step, by }) => [name, arrivedAt, leftAt, step, by])).toEqual([
    ["Draft", MORNING, sentAt, null, null],
    ["Check", sentAt, backAt, "Send", "Tobia Rensk"],
    ["Draft", backAt, null, "Back", "Wim Aldera"],
  ]);
  const [, check] = passage?.steps ?? [];
  expect(check?.note).toBe("First draft.");
  expect(check?.told.some(({ words }) => words.includes("saved"))).toBe(false);
  expect(check?.told.map(({ who, words }) => `${who} ${words}`)).toContain("Wim Aldera commented");
  const [round] = check?.rounds ?? [];
  expect([round?.number, round?.outcome, round?.openedAt, round?.closedAt]).toEqual([1, "returned", sentAt, backAt]);
  expect(round?.seats.map(({ person }) => person)).toEqual(["Wim Aldera", "Petra Holmqvist"]);
  expect(round?.decisions.map(({ person, verdict, note }) => [person, verdict, note])).toEqual([
    ["Wim Aldera", "return", "Say which."],
  ]);
  expect(await passageOf(world.db, await world.viewer("noor"), slug)).toBeNull();
});

test("in place one hears what is out, what is on its way and whose turn it is; or nothing, where one sees no more than readers", async () => {
  const { id } = await begin(world);
  const { slug } = (await look(world, id)).piece;
  const here = async (who: string) => inPlaceOf(world.db, await world.viewer(who), slug);
  expect(await here("tobia")).toMatchObject({ out: null, present: 1, state: "Draft", turn: "Tobia Rensk", plan: null });
  accepted(await send(world, id, "tobia", "send"));
  expect(await here("ilda")).toMatchObject({ state: "Check", turn: "Wim Aldera and Petra Holmqvist" });
  const { hash } = (await look(world, id)).version;
  for (const who of ["wim", "petra"])
    accepted(await decide(world.act(who), { pieceId: id, versionHash: hash, verdict: "approve", note: "" }));
  accepted(await send(world, id, "ilda", "release"));
  expect(await here("tobia")).toMatchObject({ out: 1, present: 1, state: "Live", turn: "", outSince: MORNING });
  expect(await here("noor")).toBeNull();
});
