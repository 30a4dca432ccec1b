import { eq, sql } from "drizzle-orm";
import {
  attachment,
  commission,
  intakeItem,
  intakeWord,
  ledger,
  person,
  piece,
  task,
  wording,
} from "#server/db/schema/index.ts";
import { sweepFiles } from "#server/files/sweep.ts";
import { earliestBy } from "#server/intake/ahead.ts";
import { openForm, saveForm } from "#server/intake/forms.ts";
import { judgeIdea, likeIdea, noteIdea, outlineIdea, shortlist } from "#server/intake/ideas.ts";
import { requesterBy } from "#server/intake/keys.ts";
import { broughtTo, fileAlong, intakeCounts, intakeList, intakePage } from "#server/intake/queries.ts";
import { answerReport, sendReport, takeForCorrection, thankReaders } from "#server/intake/reports.ts";
import { requesterPage } from "#server/intake/requester.ts";
import {
  amendOwn,
  openAsked,
  renewAsked,
  replyOwn,
  sendLink,
  sendRequest,
  sweepUnconfirmed,
  withdrawOwn,
} from "#server/intake/requests.ts";
import { amend, askBack, decline, giveTo, joinTo, reopen, takeUp } from "#server/intake/triage.ts";
import { deleteKind } from "#server/kinds/commands.ts";
import { loadPlaces } from "#server/sections/places.ts";
import {
  ANSWERS,
  bulletinForm,
  inIntake,
  linkTo,
  mailsTo,
  openLink,
  requested,
  requestFor,
  saidOf,
  WARDEN,
} from "../support/intake.ts";
import {
  accepted,
  approve,
  approved,
  begin,
  bindReview,
  codeOf,
  DAY,
  HOUR,
  look,
  MORNING,
  makeWorld,
  save,
  send,
  type World,
} from "../support/world.ts";

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const anybody = { address: "192.0.2.1", known: null, team: false };
const form = async (name: string, more: object = {}) =>
  accepted(await saveForm(world.act("ilda"), bulletinForm(world, name, more))).key;
const all = { show: "open" as const, sort: null, mine: false, words: "" };
const seenBy = async (who: string, more: object = {}) =>
  (await intakeList(world.db, await world.viewer(who), { ...all, ...more })).rows.map((row) => row.title);
const warden = async () => {
  const who = await requesterBy(world.db, await openLink(world, WARDEN.email), MORNING);
  if (!who) throw new Error("the warden is not known");
  return who;
};
const told = async (who: string) =>
  (await world.db.execute(sql`SELECT COUNT(*) AS n FROM notice WHERE person_id = ${world.id(who)}`))[0] as unknown as {
    n: number;
  }[];

test("a request waits for its address to be confirmed; from then on it is with the team, and its time runs", async () => {
  const key = await form("News");
  const sent = await sendRequest(world.act(null), requestFor(key, "The winter room"), anybody);
  expect(sent).toEqual({ ok: true, value: { confirms: true } });
  expect(await seenBy("ilda")).toEqual([]);
  expect((await told("ilda"))[0]?.n).toBe(0);
  const secret = await linkTo(world, WARDEN.email);
  // Whoever typed the address may be anybody: no word of theirs is mailed to it.
  const [mail] = await mailsTo(world, WARDEN.email);
  expect(`${mail?.subject} ${mail?.body}`).not.toMatch(/winter|Ottavia/i);
  const browser = accepted(await openAsked(world.act(null, MORNING + HOUR), secret));
  expect(await requesterBy(world.db, browser, MORNING + HOUR)).toMatchObject(WARDEN);
  expect(await seenBy("ilda")).toEqual(["The winter room"]);
  expect((await told("ilda"))[0]?.n).toBe(1);
  const [row] = await world.db.select().from(intakeItem);
  expect(row).toMatchObject({ standing: "waiting", at: MORNING + HOUR });
  expect(row?.dueAt).toBeGreaterThan(MORNING + HOUR);
  // Used once; whoever comes by it again has a new one sent.
  expect(codeOf(await openAsked(world.act(null), secret))).toBe("over");
  expect(codeOf(await openAsked(world.act(null), "guessed"))).toBe("over");
  accepted(await renewAsked(world.act(null), secret, "192.0.2.1"));
  expect(await linkTo(world, WARDEN.email)).not.toBe(secret);
  expect(codeOf(await renewAsked(world.act(null), "guessed", "192.0.2.1"))).toBe("not-found");
});

test("a link is over after a fortnight, and a browser known for a month", async () => {
  const key = await form("News");
  accepted(await sendRequest(world.act(null), requestFor(key, "Old"), anybody));
  const secret = await linkTo(world, WARDEN.email);
  expect(codeOf(await openAsked(world.act(null, MORNING + 15 * DAY), secret))).toBe("over");
  const browser = await openLink(world, WARDEN.email);
  expect(await requesterBy(world.db, browser, MORNING + 29 * DAY)).not.toBeNull();
  expect(await requesterBy(world.db, browser, MORNING + 31 * DAY)).toBeNull();
  // The link of a mail is no key of a browser.
  expect(await requesterBy(world.db, secret, MORNING)).toBeNull();
});

test("what is missing is asked for at once, with its reason on record; the answer brings it back", async () => {
  const on = await requested(world, "Soup evening", { answers: { body: "Soup." } });
  expect(on.row.standing).toBe("asked");
  const page = await intakePage(world.db, await world.viewer("ilda"), on.itemId);
  expect(page?.said.map((one) => [one.sort, one.words])).toEqual([["check", "Who can be asked is empty"]]);
  const [mail] = await mailsTo(world, WARDEN.email);
  expect(mail?.body).toContain("- Who can be asked is empty");
  const who = await warden();
  const [shown] = await requesterPage(world.db, who);
  expect(shown?.fate.sentence).toBe("Who can be asked is empty");
  const filled = { itemId: on.itemId, revision: on.revision, title: "Soup evening", wishedAt: null };
  accepted(await amendOwn(world.act(null), who, { ...filled, answers: ANSWERS }));
  const after = await inIntake(world, on.itemId);
  expect(after.row.standing).toBe("waiting");
  const changes = (await world.db.select().from(intakeWord)).find((one) => one.sort === "amendment")?.changes;
  expect(changes).toEqual([
    { name: "Text", was: "Soup.", is: "The winter room is open." },
    { name: "Who can be asked", was: "", is: "Ottavia" },
  ]);
  expect(codeOf(await amendOwn(world.act(null), who, { ...filled, title: "x", answers: {} }))).toBe("stale");
});

test("who judges takes it up: a piece begins with what it brought, its writer is asked, its sender told", async () => {
  const on = await requested(world, "The winter room is open", { wishedAt: MORNING + 20 * DAY });
  const taking = {
    ...on,
    title: "Winter room",
    kindId: world.id("kind bulletin-item"),
    sectionId: world.id("section bulletin"),
    writerId: world.id("noor"),
    brief: "Who can be asked: Ottavia",
    publishAt: MORNING + 20 * DAY,
  };
  const { slug } = accepted(await takeUp(world.act("ilda"), taking));
  const [made] = await world.db.select().from(piece).where(eq(piece.slug, slug));
  expect(made).toMatchObject({ title: "Winter room", authorId: world.id("noor"), publishAt: MORNING + 20 * DAY });
  expect(JSON.stringify((await look(world, made?.id ?? "")).version.content)).toContain("The winter room is open.");
  expect(await world.db.select().from(commission)).toMatchObject([
    { brief: "Who can be asked: Ottavia", takenAt: null },
  ]);
  expect(await inIntake(world, on.itemId)).toMatchObject({ row: { standing: "taken", pieceId: made?.id } });
  expect((await mailsTo(world, WARDEN.email))[0]?.subject).toContain("We do it");
  expect(await broughtTo(world.db, await world.viewer("noor"), made?.id ?? "")).toEqual([]);
  expect(await broughtTo(world.db, await world.viewer("ilda"), made?.id ?? "")).toHaveLength(1);
  // Of two who take it up the second is told.
  const second = await takeUp(world.act("ilda"), taking);
  expect(second).toMatchObject({ refusal: { code: "settled", sentence: "This became a piece meanwhile." } });
  const who = await warden();
  const [fate] = await requesterPage(world.db, who);
  expect(fate?.fate.sentence).toBe("It is being written.");
  expect(JSON.stringify(fate)).not.toContain("Noor");
  expect(codeOf(await withdrawOwn(world.act(null), who, on))).toBe("settled");
});

test("two take one thing up at once: one begins a piece", async () => {
  const on = await requested(world, "Once");
  const taking = {
    ...on,
    title: "Once",
    kindId: world.id("kind bulletin-item"),
    sectionId: world.id("section bulletin"),
    writerId: null,
    brief: "",
    publishAt: null,
  };
  const done = await Promise.all([1, 2, 3].map(() => takeUp(world.act("ilda"), taking)));
  expect(done.filter((one) => one.ok)).toHaveLength(1);
  expect(await world.db.select().from(piece).where(eq(piece.title, "Once"))).toHaveLength(1);
});

test("a question goes out and its answer comes back; what is declined says why, and can be taken up again", async () => {
  const on = await requested(world, "A raffle");
  accepted(await askBack(world.act("ilda"), { ...on, question: "For what?" }));
  expect((await mailsTo(world, WARDEN.email))[0]?.body).toContain("“For what?”");
  const who = await warden();
  accepted(await replyOwn(world.act(null), who, { itemId: on.itemId, words: "For a flag." }));
  expect(codeOf(await replyOwn(world.act(null), who, { itemId: on.itemId, words: "Again." }))).toBe("settled");
  const back = await inIntake(world, on.itemId);
  expect(back.row.standing).toBe("waiting");
  accepted(await decline(world.act("ilda"), { ...back, reason: "It is not for our readers." }));
  expect((await mailsTo(world, WARDEN.email))[0]?.body).toContain("It is not for our readers.");
  expect(await seenBy("ilda", { show: "done" })).toEqual(["A raffle"]);
  accepted(await reopen(world.act("ilda"), await inIntake(world, on.itemId)));
  expect(await seenBy("ilda")).toEqual(["A raffle"]);
});

test("what came in is seen by who judges where it belongs, and by whom it was given to", async () => {
  const on = await requested(world, "For the bulletin");
  expect(await seenBy("sefa")).toEqual([]);
  expect(await intakePage(world.db, await world.viewer("sefa"), on.itemId)).toBeNull();
  expect(codeOf(await amend(world.act("sefa"), { ...on, title: "x" }))).toBe("not-found");
  accepted(await giveTo(world.act("ilda"), { ...on, personId: world.id("kai") }));
  expect(await seenBy("kai", { mine: true })).toEqual(["For the bulletin"]);
  accepted(await amend(world.act("kai"), { ...(await inIntake(world, on.itemId)), title: "For kai" }));
  const routes = accepted(
    await saveForm(
      world.act("ilda"),
      bulletinForm(world, "Paths", { sectionId: world.id("section winter"), kindId: world.id("kind route-guide") }),
    ),
  );
  accepted(
    await sendRequest(world.act(null), requestFor(routes.key, "A path"), { address: "x", known: WARDEN, team: false }),
  );
  expect(await seenBy("sefa")).toEqual(["A path"]);
  expect(await seenBy("noor")).toEqual([]);
  expect(await intakeCounts(world.db, await world.viewer("ilda"))).toMatchObject({ request: 2, idea: 0 });
});

test("a form is open to whom it says, and closed when it is closed", async () => {
  const team = await form("For the team", { openTo: "team" });
  // Whose address is known from an earlier mail is not of the team for that.
  for (const who of [anybody, { ...anybody, known: WARDEN }])
    expect(codeOf(await sendRequest(world.act(null), requestFor(team, "x"), who))).toBe("team");
  const noor = { known: { email: "noor@fontelba.example", name: "Noor" }, team: true };
  accepted(await sendRequest(world.act(null), requestFor(team, "Of the team"), { ...anybody, ...noor }));
  const invited = await form("For some", { openTo: "invited", invited: "ottavia@huts.example" });
  accepted(await sendRequest(world.act(null), requestFor(invited, "x"), anybody));
  const other = requestFor(invited, "x", { email: "other@huts.example" });
  expect(codeOf(await sendRequest(world.act(null), other, anybody))).toBe("not-invited");
  const closed = await form("Closed", { on: false });
  expect(codeOf(await sendRequest(world.act(null), requestFor(closed, "x"), anybody))).toBe("not-found");
  expect(codeOf(await sendRequest(world.act(null), requestFor("none", "x"), anybody))).toBe("not-found");
});

test("forms and letters from one address are limited, and nothing of those taken is lost", async () => {
  const key = await form("News");
  const codes: string[] = [];
  for (let i = 0; i < 24; i++) {
    const request = requestFor(key, `Request ${i}`, { email: `warden${i}@huts.example` });
    codes.push(codeOf(await sendRequest(world.act(null), request, anybody)));
  }
  expect(codes.slice(0, 20).every((one) => one === "accepted")).toBe(true);
  expect(codes.slice(20).every((one) => one === "rate-limited")).toBe(true);
  expect(await world.db.select().from(intakeItem)).toHaveLength(20);
  const letters: string[] = [];
  for (let i = 0; i < 7; i++) letters.push(codeOf(await sendLink(world.act(null), WARDEN.email, `10.0.0.${i}`)));
  expect(letters.at(-1)).toBe("rate-limited");
});

test("whether an address is known nobody learns, and what nobody confirmed goes after a while", async () => {
  const key = await form("News");
  accepted(await sendLink(world.act(null), "nobody@huts.example", "10.0.0.1"));
  expect(await mailsTo(world, "nobody@huts.example")).toEqual([]);
  accepted(await sendRequest(world.act(null), requestFor(key, "Never confirmed"), anybody));
  expect(await sweepUnconfirmed(world.db, MORNING + DAY)).toBe(0);
  expect(await sweepUnconfirmed(world.db, MORNING + 15 * DAY)).toBe(1);
});

test("a form names what is there, and two forms one name not; what it uses stays", async () => {
  const wrong = async (more: object) => codeOf(await saveForm(world.act("ilda"), bulletinForm(world, "Form", more)));
  expect(await wrong({ kindId: world.id("ilda") })).toBe("unknown-kind");
  expect(await wrong({ sectionId: world.id("ilda") })).toBe("unknown-section");
  expect(await wrong({ holderId: world.id("section bulletin") })).toBe("unknown-person");
  expect(await wrong({ channel: "invented" })).toBe("unknown-channel");
  const picture = JSON.stringify([{ key: "", name: "Picture", type: "image", required: false }]);
  expect(await wrong({ fields: picture })).toBe("bad-fields");
  const key = await form("Form");
  expect(await wrong({})).toBe("taken");
  const row = await openForm(world.db, key);
  const changed = bulletinForm(world, "Form", { id: row?.id, revision: 1, lead: "9wd" });
  accepted(await saveForm(world.act("ilda"), changed));
  expect(codeOf(await saveForm(world.act("ilda"), changed))).toBe("stale");
  expect(codeOf(await deleteKind(world.act("ilda"), "bulletin-item"))).toBe("in-use");
});

test("the earliest it can be out follows the form and the line", async () => {
  const key = await form("News");
  const row = await openForm(world.db, key);
  if (!row) throw new Error("no form");
  const soonest = await earliestBy(world.db, await loadPlaces(world.db), row, MORNING + HOUR, MORNING);
  expect(soonest?.met).toBe(false);
  expect(soonest?.at).toBeGreaterThan(MORNING + 2 * DAY);
  // A calendar that never opens says nothing.
  const places = await loadPlaces(world.db);
  const shut = { ...places.calendar, week: {} };
  expect(await earliestBy(world.db, { ...places, calendar: shut }, row, null, MORNING)).toBeNull();
});

test("an idea is anybody's: noted, outlined, judged once each, short-listed, set aside with its reason", async () => {
  const { id } = accepted(await noteIdea(world.act("wim"), { title: "Springs one can drink from", words: "" }));
  accepted(await outlineIdea(world.act("noor"), { ...(await inIntake(world, id)), words: "Ask.", bundle: "Water" }));
  const on = await inIntake(world, id);
  expect(codeOf(await judgeIdea(world.act("noor"), { ...on, answers: { readers: "invented" }, note: "" }))).toBe(
    "nothing",
  );
  for (const answer of ["a few would", "many would"])
    accepted(await judgeIdea(world.act("noor"), { ...on, answers: { readers: answer }, note: "" }));
  for (let i = 0; i < 2; i++)
    accepted(await shortlist(world.act("ilda"), { ...(await inIntake(world, id)), on: true }));
  const put = await world.db.select().from(ledger).where(eq(ledger.action, "idea.shortlisted"));
  expect(put).toMatchObject([{ subjectId: id, after: { on: true } }]);
  const page = await intakePage(world.db, await world.viewer("tobia"), id);
  expect(page?.judgements).toHaveLength(1);
  expect(page?.tallies[0]?.counts.map((one) => one.count)).toEqual([0, 0, 1]);
  expect(page?.mayJudge).toBe(false);
  expect(await seenBy("tobia", { show: "short" })).toEqual(["Springs one can drink from"]);
  const like = await likeIdea(world.db, await world.viewer("tobia"), "drink from a spring, springs", null);
  expect(like.items.map((one) => one.title)).toEqual(["Springs one can drink from"]);
  accepted(await decline(world.act("sefa"), { ...(await inIntake(world, id)), reason: "We did it in May." }));
  expect(await seenBy("noor", { show: "done", words: "springs" })).toEqual(["Springs one can drink from"]);
});

test("an idea is joined to a piece one may see, and to none one may not", async () => {
  const { id } = accepted(await noteIdea(world.act("wim"), { title: "Keys", words: "" }));
  const { id: pieceId, slug } = await begin(world);
  expect(codeOf(await joinTo(world.act("sefa"), { ...(await inIntake(world, id)), slug }))).toBe("unknown-piece");
  accepted(await joinTo(world.act("ilda"), { ...(await inIntake(world, id)), slug }));
  expect(await broughtTo(world.db, await world.viewer("tobia"), pieceId)).toMatchObject([{ id, standing: "joined" }]);
});

test("what a reader says is judged, answered by mail, or mended: and they are thanked when that is out", async () => {
  await bindReview(world, "any", [{ person: "wim" }]);
  const pieceId = await approved(world);
  const { slug } = (await look(world, pieceId)).piece;
  const saying = { slug, words: "x", quote: "", name: "", email: null };
  expect(codeOf(await sendReport(world.act(null), saying, "10.0.0.1"))).toBe("not-found");
  accepted(await send(world, pieceId, "ilda", "release"));
  const silent = await saidOf(world, pieceId, null);
  expect(codeOf(await answerReport(world.act("ilda"), { ...silent, words: "Thank you." }))).toBe("nobody");
  const asked = await saidOf(world, pieceId);
  accepted(await answerReport(world.act("ilda"), { ...asked, words: "It is there still." }));
  expect((await mailsTo(world, "reader@post.example"))[0]?.body).toContain("It is there still.");
  const reader = await requesterBy(world.db, await openLink(world, "reader@post.example"), MORNING);
  const becomes = async () => (reader ? (await requesterPage(world.db, reader)).map((one) => one.fate.sentence) : []);
  const right = await saidOf(world, pieceId);
  expect(accepted(await takeForCorrection(world.act("ilda"), right)).slug).toBe(slug);
  expect(await becomes()).toContain("We are correcting it.");
  accepted(await send(world, pieceId, "tobia", "revise"));
  accepted(await save(world, pieceId, "tobia", "The keys hang elsewhere."));
  accepted(await send(world, pieceId, "tobia", "send"));
  await approve(world, pieceId);
  accepted(await send(world, pieceId, "ilda", "release"));
  expect(await world.db.select().from(task).where(eq(task.kind, "thanks"))).toMatchObject([{ subject: pieceId }]);
  for (let i = 0; i < 2; i++) accepted(await thankReaders(world.act(null), pieceId));
  const thanks = (await mailsTo(world, "reader@post.example")).filter((one) => one.subject?.includes("thanks to you"));
  expect(thanks).toHaveLength(1);
  expect((await becomes()).sort()).toEqual(["It is corrected.", "We answered it."]);
});

test("what a sender is told is worded by the team; whoever left is given nothing", async () => {
  const place = { event: "intake.declined", part: "requester", place: "mail" as const };
  await world.db.insert(wording).values({ ...place, headline: "Not this time", body: "{{note}} — {{publication}}" });
  const on = await requested(world, "A raffle");
  accepted(await decline(world.act("ilda"), { ...on, reason: "Too late." }));
  const [mail] = await mailsTo(world, WARDEN.email);
  expect(mail?.subject).toMatch(/^Not this time: /);
  expect(mail?.body).toContain("Too late. —");
  await world.db.update(person).set({ active: false }).where(eq(person.key, "noor"));
  const other = await requested(world, "Another");
  expect(codeOf(await giveTo(world.act("ilda"), { ...other, personId: world.id("noor") }))).toBe("unknown-person");
});

test("whoever sees to a form is told of what comes by it; once they have left, everybody who judges there", async () => {
  const key = await form("Seen to", { holderId: world.id("noor") });
  const known = { ...anybody, known: WARDEN };
  const count = async () => [await told("noor"), await told("ilda")].map(([row]) => row?.n);
  accepted(await sendRequest(world.act(null), requestFor(key, "First"), known));
  expect(await count()).toEqual([1, 0]);
  await world.db.update(person).set({ active: false }).where(eq(person.key, "noor"));
  accepted(await sendRequest(world.act(null), requestFor(key, "Second"), known));
  expect(await count()).toEqual([1, 1]);
});

test("a request of another is not there, whoever asks", async () => {
  const on = await requested(world, "Mine");
  const other = { id: world.id("ilda"), email: "other@huts.example", name: "Other" };
  expect(codeOf(await withdrawOwn(world.act(null), other, on))).toBe("not-found");
  expect(await requesterPage(world.db, other)).toEqual([]);
  accepted(await withdrawOwn(world.act(null), await warden(), on));
  expect(codeOf(await decline(world.act("ilda"), { ...(await inIntake(world, on.itemId)), reason: "x" }))).toBe(
    "settled",
  );
});

test("files come along, are seen by who judges, and are the piece's once it is taken up; what is no file is refused", async () => {
  const key = await form("News");
  const plan = { name: "plan.txt", bytes: Buffer.from("From Ponte Scuro to the hut.") };
  const along = [plan, { name: "plan again.txt", bytes: plan.bytes }];
  const request = requestFor(key, "With files");
  accepted(await sendRequest(world.act(null), request, { address: "a", known: WARDEN, team: false }, along));
  const [row] = await world.db.select().from(intakeItem);
  const itemId = row?.id ?? "";
  const page = await intakePage(world.db, await world.viewer("ilda"), itemId);
  expect(page?.files).toMatchObject([{ name: "plan.txt", bytes: 28 }]);
  const fileId = page?.files[0]?.id ?? "";
  expect(await fileAlong(world.db, await world.viewer("ilda"), itemId, fileId)).toMatchObject({
    mediaType: "text/plain",
  });
  expect(await fileAlong(world.db, await world.viewer("noor"), itemId, fileId)).toBeNull();
  // What waits in the intake is named by it, and not swept away.
  expect(await sweepFiles(world.db, world.files, Date.now() + 30 * DAY)).toBe(0);
  const taking = {
    title: "With files",
    kindId: world.id("kind bulletin-item"),
    sectionId: world.id("section bulletin"),
  };
  const { slug } = accepted(
    await takeUp(world.act("ilda"), {
      ...(await inIntake(world, itemId)),
      ...taking,
      writerId: null,
      brief: "",
      publishAt: null,
    }),
  );
  const [made] = await world.db.select().from(piece).where(eq(piece.slug, slug));
  expect(
    await world.db
      .select()
      .from(attachment)
      .where(eq(attachment.pieceId, made?.id ?? "")),
  ).toMatchObject([{ fileId, name: "plan.txt", credit: "Ottavia Prell", licence: "" }]);
  const program = [{ name: "run.exe", bytes: Buffer.from("MZ\x90\x00 a program") }];
  const refused = await sendRequest(world.act(null), request, { address: "b", known: WARDEN, team: false }, program);
  expect(refused).toMatchObject({ refusal: { code: "bad-file", field: "files" } });
  const six = Array.from({ length: 6 }, (_, i) => ({ name: `${i}.txt`, bytes: Buffer.from(`${i}`) }));
  expect(codeOf(await sendRequest(world.act(null), request, { address: "c", known: WARDEN, team: false }, six))).toBe(
    "bad-file",
  );
});
