import { and, eq } from "drizzle-orm";
import { weekTold } from "#core/events/flow.ts";
import { nextWeekBegins } from "#core/time/week.ts";
import { ledger, person, standInMail, task } from "#server/db/schema/index.ts";
import { tellWeek, weekLetter } from "#server/flow/letter.ts";
import { doDue } from "#server/jobs/loop.ts";
import { chooseTelling, tellingInput } from "#server/notices/choosing.ts";
import { loadPlaces } from "#server/sections/places.ts";
import { type StandInPost, startPost } from "#server/standins/post.ts";
import { scheduleOnce } from "#server/tasks/schedule.ts";
import { worker } from "../support/worker.ts";
import { accepted, begin, DAY, HOUR, heard, MORNING, makeWorld, type World } from "../support/world.ts";

let world: World;
let post: StandInPost;
beforeAll(async () => {
  world = await makeWorld();
  post = await startPost(world.db, async () => MORNING);
  await begin(world, "The ford at Casere", "tobia", MORNING - HOUR);
  await begin(world, "Tobia's own", "tobia", MORNING - HOUR, true);
});
afterAll(async () => {
  await post.stop();
  await world.close();
});
afterEach(() => world.db.update(person).set({ telling: null }));

const want = async (who: string, how: Record<string, string>) =>
  accepted(await chooseTelling(world.act(who), tellingInput.parse(how), true));

test("nobody gets a letter of the week who did not choose one", async () => {
  expect(accepted(await tellWeek(world.db, world.act(null, MORNING)))).toBe(0);
  expect(await heard(world, "ilda")).not.toContainEqual(
    expect.objectContaining({ headline: expect.stringMatching(/^The week/) }),
  );
});

test("it says what its reader may see: what left, what waits, what is likely late, targets", async () => {
  const letter = async (who: string) => weekLetter(world.db, { ...(await world.viewer(who)), now: MORNING + 2 * DAY });
  expect((await letter("tobia")).lines).toContain("Waiting: 2 pieces on you, none late; 2 pieces in all, none late");
  expect((await letter("ilda")).lines).toContain("Waiting: 0 pieces on you, none late; one piece in all, none late");
  expect((await letter("noor")).headline).toBe("The week: none left, none are on the way");
});

test("who chose it has it once when the week begins, however many nodes there are, as a notice and by mail", async () => {
  await want("ilda", { "mail.week": "at-once" });
  const { calendar } = await loadPlaces(world.db);
  const monday = nextWeekBegins(calendar, MORNING);
  await scheduleOnce(world.db, { kind: "letter", subject: "week", dueAt: monday });
  await doDue(worker(world, monday - 1), "letter");
  expect(await world.db.$count(ledger, eq(ledger.action, weekTold.name))).toBe(0);
  await doDue(worker(world, monday), "letter");
  await Promise.all([1, 2].map((later) => tellWeek(world.db, world.act(null, monday + later))));
  expect(await world.db.$count(ledger, eq(ledger.action, weekTold.name))).toBe(1);
  const [next] = await world.db
    .select({ at: task.dueAt })
    .from(task)
    .where(and(eq(task.kind, "letter"), eq(task.subject, "week")));
  expect(next?.at).toBe(nextWeekBegins(calendar, monday));
  expect((await heard(world, "ilda"))[0]?.headline).toBe("The week: none left, one is on the way");
  expect((await heard(world, "tobia")).some((one) => one.headline.startsWith("The week"))).toBe(false);
  await doDue(worker(world, monday + HOUR, { smtpUrl: post.url }), "mail");
  const [mail] = await world.db
    .select()
    .from(standInMail)
    .where(eq(standInMail.subject, "The week: none left, one is on the way"));
  expect(mail?.body).toContain("Left for readers: none");
  expect(mail?.body).toContain("/flow");
});
