import { eq } from "drizzle-orm";
import { READY_INTAKE } from "#core/intake/ideas.ts";
import type { Result } from "#core/refusal.ts";
import { SITE } from "#core/release/channel.ts";
import { NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { ruleSchema } from "#core/rules/document.ts";
import { STARTING_POINTS } from "#core/workflow/editing/starting-points.ts";
import { askAssistant, leaveErrand, remarkOnPoint, takeErrand } from "#server/assist/commands.ts";
import { assistPage } from "#server/assist/queries.ts";
import { loadAssistant, nameAssistant } from "#server/assist/service.ts";
import { newId } from "#server/db/schema/columns.ts";
import {
  absence,
  accessGrant,
  assignment,
  assistantErrand,
  chatChannel,
  checklistPoint,
  comment,
  feed,
  modelText,
  outbox,
  person,
  personGroup,
  seat,
  target,
} from "#server/db/schema/index.ts";
import {
  dropEdition,
  fillEdition,
  makeEdition,
  moveEdition,
  orderEdition,
  takeOut,
} from "#server/editions/commands.ts";
import { releaseEdition } from "#server/editions/leaving.ts";
import { reopenEdition, signEdition } from "#server/editions/signing.ts";
import { attachFile, describeFile, removeFile } from "#server/files/commands.ts";
import { dropTarget, setTarget } from "#server/flow/targets.ts";
import { inviteGuest, nameGuest, revokeGuest } from "#server/guests/commands.ts";
import { dropFeed, lookNow, nameFeed } from "#server/intake/feeds.ts";
import { saveForm } from "#server/intake/forms.ts";
import { agreeOn, judgeIdea, noteIdea, outlineIdea, shortlist } from "#server/intake/ideas.ts";
import { answerReport, takeForCorrection } from "#server/intake/reports.ts";
import { amend, askBack, decline, giveTo, joinTo, reopen, takeUp } from "#server/intake/triage.ts";
import { addKind, deleteKind, saveKind } from "#server/kinds/commands.ts";
import { setLimit } from "#server/load/commands.ts";
import { chooseDefaults, sendAgain, tellingInput } from "#server/notices/choosing.ts";
import { nameChannel, removeChannel } from "#server/notices/naming.ts";
import { giveUpWording, keepWording, tryWording } from "#server/notices/wording.ts";
import { overrideStep, recallPiece, sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { nudge } from "#server/passage/nudging.ts";
import { addSeat, changeDue, changeUrgency, reassign, reassignSeat } from "#server/passage/routing.ts";
import { addAbsences, nameStandIn, removeAbsence } from "#server/people/absence.ts";
import { invite, inviteAgain } from "#server/people/accounts.ts";
import { endGrant, grantRole } from "#server/people/grants.ts";
import { addGroup, deleteGroup, setMembers } from "#server/people/groups.ts";
import { endAccess, restoreAccess } from "#server/people/leaving.ts";
import { clearFactors, signOutEverywhere } from "#server/people/rescue.ts";
import { addRole, deleteRole, saveRole } from "#server/people/roles.ts";
import { beginSeeingAs } from "#server/people/see-as.ts";
import { openSession } from "#server/people/sessions.ts";
import { tickPoint } from "#server/pieces/checklist.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { handBack, takeCommission } from "#server/pieces/commission.ts";
import { deletePiece, erasePiece, restorePiece } from "#server/pieces/deleting.ts";
import { dropModel, keepModel } from "#server/pieces/origins.ts";
import { placePiece } from "#server/pieces/placing.ts";
import { pointOut } from "#server/pieces/pointing.ts";
import { changePublication, publicationSettings } from "#server/publication/commands.ts";
import { giveChannelCalendar, takeChannelCalendar } from "#server/release/calendar.ts";
import { retireChannel, saveChannel } from "#server/release/channel-changes.ts";
import { loadChannel, loadChannels } from "#server/release/channels.ts";
import { cancelRelease, confirmRelease, planRelease, withdrawPiece } from "#server/release/commands.ts";
import { endAt } from "#server/release/ending.ts";
import { setEmbargo, wishFor } from "#server/release/wishes.ts";
import { remark, reply, rewordComment, sendRemarks, takeBack } from "#server/remarks/commands.ts";
import { askOpinion } from "#server/remarks/opinion.ts";
import { acceptProposals, setAside } from "#server/remarks/proposals.ts";
import { pinThread, settleThread } from "#server/remarks/settle.ts";
import { bringInRules, deleteRule, ruleInput, saveRule, switchRule } from "#server/rules/commands.ts";
import { loadRules } from "#server/rules/rows.ts";
import { addSection, deleteSection, moveSection, renameSection } from "#server/sections/commands.ts";
import { holdText, nameVersion, restoreVersion, savePiece } from "#server/text/commands.ts";
import { abandonRevision } from "#server/text/revision.ts";
import { cancelPlanned, putInUse } from "#server/workflows/adopt.ts";
import { bindWorkflow, deleteWorkflow, retireWorkflow, reviveWorkflow } from "#server/workflows/bindings.ts";
import { discardCopy, saveCopy, startCopy, takeOver } from "#server/workflows/copies.ts";
import { putOnLine } from "#server/workflows/one-piece.ts";
import type { Act } from "#server/write.ts";
import { bulletin, editionAt, editionsOf, fill } from "../support/edition.ts";
import { bulletinForm, feedAt, inIntake, requested, saidOf } from "../support/intake.ts";
import { accepted, begin, DAY, look, MORNING, paragraph, save, send, type World, whole } from "../support/world.ts";

/**
 * Everybody the commands are tried as. Tobia wrote the piece in question and Wim has the seat in its
 * review; `guest` has a link to it, `ended` and `expired` were managing editors once.
 */
export const EVERYBODY = [
  "ilda",
  "sefa",
  "dario",
  "tobia",
  "noor",
  "wim",
  "jorun",
  "petra",
  "lene",
  "gus",
  "kai",
  "guest",
  "ended",
  "expired",
  "nobody",
] as const;
export type Who = (typeof EVERYBODY)[number];

interface Try {
  /** Who is let through; everybody else must be turned away. */
  may: readonly Who[];
  /** Lays out what the command needs. @returns the call, and the piece it is about, which the guest's link is for */
  set(world: World): Promise<{ run(act: Act): Promise<Result<unknown>>; pieceId?: string }>;
}

const CHIEF = ["ilda"] as const;
/** Who sees to the editions of the Bulletin. */
const EDITORS = ["ilda", "kai"] as const;
/** Who may read and comment on Tobia's piece once it was sent. */
const READERS = ["ilda", "tobia", "wim", "jorun", "petra", "lene", "gus", "kai", "guest"] as const;

/** Who holds any role now: ideas are theirs. */
const WORKS_HERE = EVERYBODY.slice(0, 11);
/** Who judges what comes in, somewhere. */
const JUDGES = ["ilda", "sefa", "dario"] as const;

let count = 0;
const fresh = (word: string) => `${word} ${++count}`;

/** A call that needs nothing laid out. */
const plain = (may: readonly Who[], run: (act: Act, world: World) => Promise<Result<unknown>>): Try => ({
  may,
  set: async (world) => ({ run: (act) => run(act, world) }),
});

async function draft(world: World) {
  return (await begin(world, fresh("Draft"))).id;
}
const A_RULE = {
  name: "A rule",
  when: { event: "due.passed" },
  then: [{ do: "notify", to: ["author"], text: "It is late." }],
};
/** A piece Tobia was asked to write. */
async function asked(
  world: World,
  run: (act: Act, on: { pieceId: string; revision: number }) => Promise<Result<unknown>>,
) {
  const { id: pieceId } = accepted(
    await createPiece(world.act("ilda"), {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title: fresh("Asked for"),
      private: false,
      commission: { writerId: world.id("tobia"), brief: "" },
    }),
  );
  const { piece: row } = await look(world, pieceId);
  return { pieceId, run: (act: Act) => run(act, { pieceId, revision: row.revision }) };
}
/** One that stands, switched off. */
async function withRule(world: World, run: (act: Act, id: string) => Promise<Result<unknown>>) {
  const wanted = ruleInput.parse({ rule: JSON.stringify({ ...A_RULE, name: fresh("Rule") }) });
  const { key } = accepted(await saveRule(world.act("ilda"), wanted));
  const id = (await loadRules(world.db)).find((one) => one.key === key)?.id ?? "";
  return { run: (act: Act) => run(act, id) };
}
const WORDED = {
  event: "comment.made",
  part: "concerned",
  place: "mail",
  headline: "{{what}}",
  body: "{{note}}",
} as const;
const NOTES = Buffer.from("Ask the warden.");
const SAID = { name: "notes.txt", description: "", credit: "Tobia Rensk", licence: "Own work" };
async function withFile(world: World) {
  const pieceId = await draft(world);
  const { id } = accepted(await attachFile(world.act("tobia"), { pieceId, bytes: NOTES, ...SAID }));
  return { pieceId, fileId: id };
}
async function inReview(world: World) {
  const pieceId = await draft(world);
  accepted(await send(world, pieceId, "tobia", "send"));
  return { pieceId, hash: (await look(world, pieceId)).version.hash };
}
/** A comment of Ilda's on a piece in review. */
async function commented(world: World) {
  const { pieceId } = await inReview(world);
  accepted(await remark(world.act("ilda"), { pieceId, body: "A word" }));
  const [row] = await world.db.select({ id: comment.id }).from(comment).where(eq(comment.pieceId, pieceId));
  return { pieceId, commentId: row?.id ?? "" };
}
/** Other wording of Wim's for the title of a piece in review. */
async function proposed(world: World) {
  const { pieceId } = await inReview(world);
  const place = { field: "title", range: { start: 0, end: 3 } };
  const { id } = accepted(await remark(world.act("wim"), { pieceId, place, wording: [{ type: "text", text: "New" }] }));
  return { pieceId, threads: [id] };
}
async function ready(world: World) {
  const { pieceId, hash } = await inReview(world);
  accepted(await decide(world.act("wim"), { pieceId, versionHash: hash, verdict: "approve", note: "" }));
  return { pieceId, revision: (await look(world, pieceId)).piece.revision };
}
/** An edition of its own with one approved piece in it. */
async function gathered(world: World) {
  const { pieceId } = await ready(world);
  if ((await editionsOf(world)).length === 0) await bulletin(world, { people: ["ilda", "kai"] });
  const { number } = accepted(await makeEdition(world.act("ilda"), { channel: "bulletin", at: MORNING + 5 * DAY }));
  accepted(await fill(world, number, [pieceId]));
  const { id: editionId, revision } = await editionAt(world, number);
  return { pieceId, editionId, revision };
}
async function signed(world: World) {
  const { editionId, pieceId, revision } = await gathered(world);
  accepted(await signEdition(world.act("ilda"), { editionId, revision }));
  accepted(await signEdition(world.act("kai"), { editionId, revision: revision + 1 }));
  return { editionId, pieceId, revision: revision + 2 };
}
async function deleted(world: World) {
  const { pieceId } = await inReview(world);
  const { revision } = (await look(world, pieceId)).piece;
  accepted(await deletePiece(world.act("tobia"), { pieceId, revision, note: "Twice." }));
  return pieceId;
}
async function somebody(world: World) {
  const name = fresh("Somebody");
  const { key } = accepted(
    await invite(world.act("ilda"), { name, email: `${name.replace(" ", "")}@x.example`, grant: null }),
  );
  const [row] = await world.db.select().from(person).where(eq(person.key, key));
  return row?.id ?? "";
}
async function group(world: World) {
  const { key } = accepted(await addGroup(world.act("ilda"), fresh("Group")));
  const [row] = await world.db.select().from(personGroup).where(eq(personGroup.key, key));
  return row?.id ?? "";
}
const WRITER = {
  roleKey: "picture-desk",
  scope: "publication",
  scopeId: null,
  from: null,
  until: null,
  publishFrom: null,
  publishUntil: null,
} as const;
const copy = async (world: World) =>
  accepted(await startCopy(world.act("ilda"), { from: "empty", name: fresh("Line") })).key;
const readyLine = async (world: World) =>
  accepted(await startCopy(world.act("ilda"), { from: "ready", key: "typing-errors", name: fresh("Line") })).key;
/** Puts a line in use, with every warning acknowledged. */
async function adopted(act: Act, key: string, at: number | null = null) {
  const use = { key, revision: 1, choices: { states: {}, pieces: {} }, acknowledged: [] as string[], at };
  const first = await putInUse(act, use);
  return first.ok || !first.refusal.keys ? first : putInUse(act, { ...use, acknowledged: first.refusal.keys });
}
async function inUse(world: World, at: number | null = null) {
  const key = await readyLine(world);
  accepted(await adopted(world.act("ilda"), key, at));
  return key;
}

const noted = async (world: World) =>
  inIntake(world, accepted(await noteIdea(world.act("wim"), { title: fresh("Idea"), words: "" })).id);
async function reported(world: World) {
  const { pieceId } = await ready(world);
  accepted(await send(world, pieceId, "ilda", "release"));
  return saidOf(world, pieceId);
}
async function feedNamed(world: World) {
  const url = `https://feed.example/${fresh("x").replace(" ", "")}`;
  accepted(await nameFeed(world.act("ilda"), feedAt(url)));
  const [row] = await world.db.select().from(feed).where(eq(feed.url, url));
  return row?.id ?? "";
}
/** A command on an idea of Wim's. */
/** An assistant to be named, as the form that names it now sends it. */
const assistantOf = async ({ db }: World) => ({
  name: "Quillmoor",
  url: "https://words.example/",
  on: true,
  everywhere: true,
  sections: [],
  revision: (await loadAssistant(db))?.revision ?? 0,
});

/** A draft of Tobia's the assistant may be asked about, and what tells what it would be sent. */
async function askable(world: World) {
  accepted(await nameAssistant(world.act("ilda"), await assistantOf(world)));
  const pieceId = await draft(world);
  const { slug } = (await look(world, pieceId)).piece;
  return { pieceId, shown: (await assistPage(world.db, await world.viewer("tobia"), slug, null))?.shown ?? "" };
}

/** A command on what the assistant brought for a draft of Tobia's. */
const onErrand = (
  run: (act: Act, on: { pieceId: string; errandId: string }, base: string) => Promise<Result<unknown>>,
): Try => ({
  may: ["tobia"],
  set: async (world) => {
    const { pieceId, shown } = await askable(world);
    accepted(await askAssistant(world.act("tobia"), { pieceId, errand: "draft", note: "", shown }));
    const of = eq(assistantErrand.pieceId, pieceId);
    const [row] = await world.db.select().from(assistantErrand).where(of);
    const brought = {
      manuscript: paragraph("Its words."),
      points: [{ quote: null, says: "Short." }],
      reasons: [],
      leftOut: [],
    };
    await world.db.update(assistantErrand).set({ standing: "brought", brought }).where(of);
    const base = (await look(world, pieceId)).version.hash;
    return { pieceId, run: (act) => run(act, { pieceId, errandId: row?.id ?? "" }, base) };
  },
});

const onIdea = (
  may: readonly Who[],
  run: (act: Act, on: { itemId: string; revision: number }, world: World) => Promise<Result<unknown>>,
): Try => ({
  may,
  set: async (world) => {
    const on = await noted(world);
    return { run: (act) => run(act, on, world) };
  },
});

/** Who may do what: every command there is, tried as everybody. */
export const COMMANDS: Record<string, Try> = {
  createPiece: plain(["ilda", "tobia", "noor"], (act, world) =>
    createPiece(act, {
      sectionId: world.id("section bulletin"),
      kindId: world.id("kind bulletin-item"),
      title: fresh("Begun"),
      private: false,
    }),
  ),
  savePiece: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      const patch = whole({ title: "Draft", fields: { body: paragraph("Other words.") } });
      const base = (await look(world, pieceId)).version.hash;
      return { pieceId, run: (act) => savePiece(act, { pieceId, window: newId(), base, patch }) };
    },
  },
  setTarget: plain(CHIEF, (act) =>
    setTarget(act, {
      name: fresh("Target"),
      wanted: 12,
      share: false,
      kindId: null,
      sectionId: null,
      channel: null,
      from: "2026-11-01",
      until: "2026-12-31",
    }),
  ),
  dropTarget: {
    may: CHIEF,
    set: async (world) => {
      const targetId = newId();
      const row = { id: targetId, name: "T", wanted: 1, from: "2026-11-01", until: "2026-12-31" };
      await world.db.insert(target).values(row);
      return { run: (act) => dropTarget(act, { targetId }) };
    },
  },
  nameAssistant: {
    may: CHIEF,
    set: async (world) => {
      const wanted = await assistantOf(world);
      return { run: (act) => nameAssistant(act, wanted) };
    },
  },
  askAssistant: {
    may: ["tobia"],
    set: async (world) => {
      const { pieceId, shown } = await askable(world);
      return { pieceId, run: (act) => askAssistant(act, { pieceId, errand: "draft", note: "", shown }) };
    },
  },
  takeErrand: onErrand((act, on, base) => takeErrand(act, { ...on, base, field: "" })),
  leaveErrand: onErrand((act, on) => leaveErrand(act, { ...on, reason: "" })),
  remarkOnPoint: onErrand((act, on) => remarkOnPoint(act, { ...on, point: 0 })),
  attachFile: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      return { pieceId, run: (act) => attachFile(act, { pieceId, bytes: NOTES, ...SAID }) };
    },
  },
  describeFile: {
    may: ["tobia"],
    set: async (world) => {
      const { pieceId, fileId } = await withFile(world);
      return { pieceId, run: (act) => describeFile(act, { pieceId, fileId, ...SAID, credit: "Nobody" }) };
    },
  },
  removeFile: {
    may: ["tobia"],
    set: async (world) => {
      const { pieceId, fileId } = await withFile(world);
      return { pieceId, run: (act) => removeFile(act, { pieceId, fileId, removed: true }) };
    },
  },
  holdText: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      return { pieceId, run: (act) => holdText(act, { pieceId, window: newId(), takes: true }) };
    },
  },
  nameVersion: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      return { pieceId, run: (act) => nameVersion(act, { pieceId, number: 1, name: "Before the snow" }) };
    },
  },
  restoreVersion: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      accepted(await save(world, pieceId, "tobia", "Other words."));
      const base = (await look(world, pieceId)).version.hash;
      const wanted = { pieceId, number: 1, base, what: { all: true as const } };
      return { pieceId, run: (act) => restoreVersion(act, wanted) };
    },
  },
  abandonRevision: {
    may: ["tobia"],
    set: async (world) => {
      const { pieceId, revision } = await ready(world);
      accepted(await send(world, pieceId, "ilda", "release"));
      accepted(await send(world, pieceId, "tobia", "revise"));
      return { pieceId, run: (act) => abandonRevision(act, { pieceId, revision: revision + 2, note: "" }) };
    },
  },
  sendPiece: {
    may: ["tobia"],
    set: async (world) => {
      const pieceId = await draft(world);
      const sent = {
        transition: "send",
        note: "",
        dueAt: null,
        publishAt: null,
        urgency: "normal" as const,
        reviewers: [],
      };
      return { pieceId, run: (act) => sendPiece(act, { pieceId, revision: 1, ...sent }) };
    },
  },
  decide: {
    may: ["wim"],
    set: async (world) => {
      const { pieceId, hash } = await inReview(world);
      return { pieceId, run: (act) => decide(act, { pieceId, versionHash: hash, verdict: "approve", note: "" }) };
    },
  },
  pointOut: {
    may: READERS.filter((one) => one !== "guest"),
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => pointOut(act, { pieceId, people: [world.id("petra")], note: "" }) };
    },
  },
  remark: {
    may: READERS,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => remark(act, { pieceId, body: "A word" }) };
    },
  },
  settleThread: {
    may: ["ilda", "tobia", "petra"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { id } = accepted(await remark(world.act("ilda"), { pieceId, body: "A word" }));
      return { pieceId, run: (act) => settleThread(act, { pieceId, threadId: id, settled: true }) };
    },
  },
  pinThread: {
    may: ["ilda", "tobia", "petra"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { id } = accepted(await remark(world.act("ilda"), { pieceId, body: "A word" }));
      return { pieceId, run: (act) => pinThread(act, { pieceId, threadId: id, pinned: true }) };
    },
  },
  reply: {
    may: READERS,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { id } = accepted(await remark(world.act("ilda"), { pieceId, body: "A word" }));
      return { pieceId, run: (act) => reply(act, { pieceId, threadId: id, body: "Yes" }) };
    },
  },
  sendRemarks: {
    may: READERS,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => sendRemarks(act, { pieceId }) };
    },
  },
  rewordComment: {
    may: ["ilda"],
    set: async (world) => {
      const { pieceId, commentId } = await commented(world);
      return { pieceId, run: (act) => rewordComment(act, { pieceId, commentId, body: "Another word" }) };
    },
  },
  takeBack: {
    may: ["ilda"],
    set: async (world) => {
      const { pieceId, commentId } = await commented(world);
      return { pieceId, run: (act) => takeBack(act, { pieceId, commentId }) };
    },
  },
  askOpinion: {
    may: READERS.filter((who) => who !== "guest"),
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => askOpinion(act, { pieceId, personId: world.id("petra"), note: "Is it so?" }) };
    },
  },
  acceptProposals: {
    may: ["tobia", "petra"],
    set: async (world) => {
      const { pieceId, threads } = await proposed(world);
      return { pieceId, run: (act) => acceptProposals(act, { pieceId, threads }) };
    },
  },
  setAside: {
    may: ["tobia", "petra"],
    set: async (world) => {
      const { pieceId, threads } = await proposed(world);
      return { pieceId, run: (act) => setAside(act, { pieceId, threads }) };
    },
  },
  tickPoint: {
    may: ["tobia", "wim", "petra"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      await world.db.insert(checklistPoint).values({ pieceId, position: 0, words: "Read aloud" });
      return { pieceId, run: (act) => tickPoint(act, { pieceId, position: 0, done: true }) };
    },
  },
  planRelease: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId, revision } = await ready(world);
      return { pieceId, run: (act) => planRelease(act, { pieceId, revision, at: MORNING + DAY }) };
    },
  },
  cancelRelease: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId, revision } = await ready(world);
      accepted(await planRelease(world.act("kai"), { pieceId, revision, at: MORNING + DAY }));
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => cancelRelease(act, { pieceId, revision: piece.revision }) };
    },
  },
  confirmRelease: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId, revision } = await ready(world);
      accepted(await planRelease(world.act("kai"), { pieceId, revision, at: MORNING + DAY }));
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => confirmRelease(act, { pieceId, revision: piece.revision }) };
    },
  },
  withdrawPiece: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId } = await ready(world);
      accepted(await send(world, pieceId, "ilda", "release"));
      const { piece } = await look(world, pieceId);
      const wanted = { pieceId, revision: piece.revision, note: "Wrong hut.", notice: "Withdrawn." };
      return { pieceId, run: (act) => withdrawPiece(act, wanted) };
    },
  },
  endAt: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId } = await ready(world);
      accepted(await send(world, pieceId, "ilda", "release"));
      const { piece } = await look(world, pieceId);
      const wanted = { pieceId, revision: piece.revision, endsAt: MORNING + DAY };
      return { pieceId, run: (act) => endAt(act, wanted) };
    },
  },
  recallPiece: {
    may: ["ilda", "tobia"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => recallPiece(act, { pieceId, revision: piece.revision, note: "Too early." }) };
    },
  },
  overrideStep: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      const wanted = { pieceId, revision: piece.revision, transition: "pass", note: "Nobody else is here." };
      return { pieceId, run: (act) => overrideStep(act, wanted) };
    },
  },
  reassignSeat: {
    may: ["ilda", "wim"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      const [place] = await world.db.select().from(seat).where(eq(seat.pieceId, pieceId));
      const wanted = { pieceId, revision: piece.revision, seatId: place?.id ?? "", personId: world.id("jorun") };
      return { pieceId, run: (act) => reassignSeat(act, wanted) };
    },
  },
  addSeat: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      const wanted = { pieceId, revision: piece.revision, personId: world.id("petra") };
      return { pieceId, run: (act) => addSeat(act, wanted) };
    },
  },
  changeDue: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => changeDue(act, { pieceId, revision: piece.revision, dueAt: MORNING + DAY }) };
    },
  },
  nudge: {
    may: ["ilda", "tobia"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => nudge(act, { pieceId }) };
    },
  },
  changeUrgency: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => changeUrgency(act, { pieceId, revision: piece.revision, urgency: "urgent" }) };
    },
  },
  reassign: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      await world.db.insert(assignment).values({ pieceId, personId: world.id("wim") });
      const { piece } = await look(world, pieceId);
      const wanted = { pieceId, revision: piece.revision, from: world.id("wim"), personId: world.id("gus") };
      return { pieceId, run: (act) => reassign(act, wanted) };
    },
  },
  placePiece: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      const { kindId, authorId, revision } = piece;
      const wanted = { pieceId, revision, kindId, authorId, sectionId: world.id("section huts"), note: "A hut." };
      return { pieceId, run: (act) => placePiece(act, wanted) };
    },
  },
  deletePiece: {
    may: ["ilda", "tobia"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => deletePiece(act, { pieceId, revision: piece.revision, note: "Twice." }) };
    },
  },
  restorePiece: {
    may: ["ilda", "tobia"],
    set: async (world) => {
      const pieceId = await deleted(world);
      return { run: (act) => restorePiece(act, { pieceId }) };
    },
  },
  erasePiece: {
    may: CHIEF,
    set: async (world) => {
      const pieceId = await deleted(world);
      return { run: (act) => erasePiece(act, { pieceId, note: "Asked for by its subject." }) };
    },
  },
  setLimit: plain(CHIEF, (act, world) => setLimit(act, { personId: world.id("wim"), limit: 3 })),
  chooseDefaults: plain(CHIEF, (act) => chooseDefaults(act, tellingInput.parse({ digestAt: "07:00" }))),
  sendAgain: plain(CHIEF, async (act, world) => {
    const messageId = newId();
    await world.db.insert(outbox).values({ id: messageId, recipient: "nobody@fontelba.example", status: "given-up" });
    return sendAgain(act, { messageId });
  }),
  saveChannel: plain(CHIEF, async (act, world) => {
    const { revision } = await loadChannel(world.db, SITE);
    const windows = alwaysOpen("Europe/Rome");
    return saveChannel(act, { key: SITE, name: "Reader site", windows, lookout: NOTHING_LOOKED_FOR, revision });
  }),
  takeCommission: { may: ["tobia"], set: async (world) => asked(world, (act, on) => takeCommission(act, on)) },
  handBack: {
    may: ["tobia"],
    set: async (world) => asked(world, (act, on) => handBack(act, { ...on, note: "No time." })),
  },
  saveRule: plain(CHIEF, (act) => saveRule(act, ruleInput.parse({ rule: JSON.stringify(A_RULE) }))),
  bringInRules: plain(CHIEF, (act) =>
    bringInRules(act, { format: "elenco.rules/1", rules: [ruleSchema.parse({ ...A_RULE, key: "a-rule" })] }),
  ),
  switchRule: { may: CHIEF, set: async (world) => withRule(world, (act, id) => switchRule(act, { id, on: true })) },
  deleteRule: { may: CHIEF, set: async (world) => withRule(world, (act, id) => deleteRule(act, { id })) },
  retireChannel: {
    may: CHIEF,
    set: async (world) => {
      const known = (await loadChannels(world.db)).find((one) => one.name === "Magazine");
      const wanted = { name: "Magazine", windows: alwaysOpen("Europe/Rome"), lookout: NOTHING_LOOKED_FOR, revision: 0 };
      const { key } = known ?? accepted(await saveChannel(world.act("ilda"), { key: "", ...wanted }));
      return { run: (act) => retireChannel(act, { key, revision: 1, ends: false }) };
    },
  },
  makeEdition: {
    may: EDITORS,
    set: async (world) => {
      await gathered(world);
      return { run: (act) => makeEdition(act, { channel: "bulletin", at: MORNING + DAY }) };
    },
  },
  fillEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId } = await gathered(world);
      const { pieceId } = await ready(world);
      return { pieceId, run: (act) => fillEdition(act, { editionId, pieces: [pieceId] }) };
    },
  },
  takeOut: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, pieceId } = await gathered(world);
      return { pieceId, run: (act) => takeOut(act, { editionId, pieceId }) };
    },
  },
  orderEdition: {
    may: EDITORS,
    set: async (world) => {
      const { pieceId, editionId } = await gathered(world);
      return { pieceId, run: (act) => orderEdition(act, { editionId, pieceId, part: "lead", before: "" }) };
    },
  },
  moveEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, revision } = await gathered(world);
      return { run: (act) => moveEdition(act, { editionId, revision, at: MORNING + 9 * DAY }) };
    },
  },
  dropEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, revision } = await gathered(world);
      return { run: (act) => dropEdition(act, { editionId, revision, note: "A holiday." }) };
    },
  },
  signEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, revision } = await gathered(world);
      return { run: (act) => signEdition(act, { editionId, revision }) };
    },
  },
  reopenEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, revision } = await signed(world);
      return { run: (act) => reopenEdition(act, { editionId, revision, note: "One more." }) };
    },
  },
  releaseEdition: {
    may: EDITORS,
    set: async (world) => {
      const { editionId, revision } = await signed(world);
      return { run: (act) => releaseEdition(act, { editionId, revision }) };
    },
  },
  giveChannelCalendar: plain(CHIEF, (act) => giveChannelCalendar(act, { key: SITE })),
  takeChannelCalendar: plain(CHIEF, (act) => takeChannelCalendar(act, { key: SITE })),
  setEmbargo: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return {
        pieceId,
        run: (act) => setEmbargo(act, { pieceId, revision: piece.revision, until: MORNING + DAY, note: "" }),
      };
    },
  },
  wishFor: {
    may: ["ilda", "kai"],
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return { pieceId, run: (act) => wishFor(act, { pieceId, revision: piece.revision, at: MORNING + DAY }) };
    },
  },
  keepWording: plain(CHIEF, (act) => keepWording(act, WORDED)),
  giveUpWording: plain(CHIEF, (act) => giveUpWording(act, WORDED)),
  tryWording: plain(CHIEF, async (act, world) => tryWording(act, await world.viewer("ilda"), { ...WORDED, on: 0 })),
  nameChannel: plain(CHIEF, (act, world) =>
    nameChannel(
      act,
      { of: `section ${world.id("section bulletin")}`, address: "https://chat.example/hook", topics: ["know"] },
      false,
    ),
  ),
  removeChannel: plain(CHIEF, async (act, world) => {
    const channelId = newId();
    const scopeId = world.id("section bulletin");
    await world.db.insert(chatChannel).values({ id: channelId, scope: "section", scopeId, address: "", topics: [] });
    return removeChannel(act, { channelId });
  }),
  changePublication: plain(CHIEF, async (act, world) => {
    const settings = await publicationSettings(world.db);
    return changePublication(act, settings);
  }),
  putOnLine: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      const { piece } = await look(world, pieceId);
      return {
        pieceId,
        run: (act) =>
          putOnLine(act, { pieceId, revision: piece.revision, workflow: "hut-page", state: "draft", note: "A hut." }),
      };
    },
  },
  inviteGuest: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => inviteGuest(act, { pieceId, label: "G", until: MORNING + DAY, decides: false }) };
    },
  },
  revokeGuest: {
    may: CHIEF,
    set: async (world) => {
      const { pieceId } = await inReview(world);
      return { pieceId, run: (act) => revokeGuest(act, { pieceId, guestId: world.id("tobia") }) };
    },
  },
  nameGuest: plain(["guest"], (act) => nameGuest(act, "Ambrose")),
  addKind: plain(CHIEF, (act) => addKind(act, fresh("Kind"))),
  saveKind: {
    may: CHIEF,
    set: async (world) => {
      const { key } = accepted(await addKind(world.act("ilda"), fresh("Kind")));
      const fields = [{ key: "body", name: "Text", type: "manuscript" as const, required: false }];
      return { run: (act) => saveKind(act, { key, name: fresh("Kind"), fields, revision: 1 }) };
    },
  },
  deleteKind: {
    may: CHIEF,
    set: async (world) => {
      const { key } = accepted(await addKind(world.act("ilda"), fresh("Kind")));
      return { run: (act) => deleteKind(act, key) };
    },
  },
  addSection: plain(CHIEF, (act) => addSection(act, { name: fresh("Section"), parentId: null })),
  renameSection: {
    may: CHIEF,
    set: async (world) => {
      const { id } = accepted(await addSection(world.act("ilda"), { name: fresh("Section"), parentId: null }));
      return { run: (act) => renameSection(act, { id, name: fresh("Section"), revision: 1 }) };
    },
  },
  moveSection: {
    may: CHIEF,
    set: async (world) => {
      const { id } = accepted(await addSection(world.act("ilda"), { name: fresh("Section"), parentId: null }));
      return { run: (act) => moveSection(act, { id, parentId: world.id("section huts"), position: 0, revision: 1 }) };
    },
  },
  deleteSection: {
    may: CHIEF,
    set: async (world) => {
      const { id } = accepted(await addSection(world.act("ilda"), { name: fresh("Section"), parentId: null }));
      return { run: (act) => deleteSection(act, { id, revision: 1 }) };
    },
  },
  addRole: plain(CHIEF, (act) => addRole(act, { name: fresh("Role"), from: null })),
  saveRole: {
    may: CHIEF,
    set: async (world) => {
      const { key } = accepted(await addRole(world.act("ilda"), { name: fresh("Role"), from: null }));
      const change = { key, name: fresh("Role"), permissions: ["piece.read"], secondFactor: false, revision: 1 };
      return { run: (act) => saveRole(act, change) };
    },
  },
  deleteRole: {
    may: CHIEF,
    set: async (world) => {
      const { key } = accepted(await addRole(world.act("ilda"), { name: fresh("Role"), from: null }));
      return { run: (act) => deleteRole(act, key) };
    },
  },
  invite: plain(CHIEF, (act) =>
    invite(act, { name: "New", email: `${fresh("new").replace(" ", "")}@x.example`, grant: null }),
  ),
  inviteAgain: {
    may: CHIEF,
    set: async (world) => {
      const id = await somebody(world);
      return { run: (act) => inviteAgain(act, id) };
    },
  },
  grantRole: {
    may: CHIEF,
    set: async (world) => {
      const personId = await somebody(world);
      return { run: (act) => grantRole(act, { to: { personId }, grant: WRITER }) };
    },
  },
  endGrant: {
    may: CHIEF,
    set: async (world) => {
      const personId = await somebody(world);
      accepted(await grantRole(world.act("ilda"), { to: { personId }, grant: WRITER }));
      const [row] = await world.db.select().from(accessGrant).where(eq(accessGrant.personId, personId));
      return { run: (act) => endGrant(act, { grantId: row?.id ?? "", until: 0 }) };
    },
  },
  addGroup: plain(CHIEF, (act) => addGroup(act, fresh("Group"))),
  setMembers: {
    may: CHIEF,
    set: async (world) => {
      const groupId = await group(world);
      return { run: (act) => setMembers(act, { groupId, members: [world.id("noor")] }) };
    },
  },
  deleteGroup: {
    may: CHIEF,
    set: async (world) => {
      const groupId = await group(world);
      return { run: (act) => deleteGroup(act, groupId) };
    },
  },
  endAccess: {
    may: CHIEF,
    set: async (world) => {
      const personId = await somebody(world);
      return { run: (act) => endAccess(act, { personId, handovers: [] }) };
    },
  },
  restoreAccess: {
    may: CHIEF,
    set: async (world) => {
      const personId = await somebody(world);
      accepted(await endAccess(world.act("ilda"), { personId, handovers: [] }));
      return { run: (act) => restoreAccess(act, personId) };
    },
  },
  signOutEverywhere: plain(CHIEF, (act, world) => signOutEverywhere(act, world.id("gus"))),
  clearFactors: plain(CHIEF, (act, world) => clearFactors(act, world.id("gus"))),
  beginSeeingAs: {
    may: CHIEF,
    set: async (world) => {
      const secret = accepted(await openSession(world.act(null), world.id("ilda"), { address: "x", agent: "x" }));
      return { run: (act) => beginSeeingAs(act, { personId: world.id("gus"), secret }) };
    },
  },
  addAbsences: plain(["ilda", "gus"], (act, world) =>
    addAbsences(act, { personId: world.id("gus"), days: [{ from: "2027-02-01", until: "2027-02-02" }] }),
  ),
  removeAbsence: {
    may: ["ilda", "gus"],
    set: async (world) => {
      const days = [{ from: "2027-03-01", until: "2027-03-02" }];
      accepted(await addAbsences(world.act("gus"), { personId: world.id("gus"), days }));
      const [row] = await world.db
        .select()
        .from(absence)
        .where(eq(absence.personId, world.id("gus")));
      return { run: (act) => removeAbsence(act, { personId: world.id("gus"), absenceId: row?.id ?? "" }) };
    },
  },
  nameStandIn: plain(["ilda", "gus"], (act, world) =>
    nameStandIn(act, { personId: world.id("gus"), standInId: world.id("lene") }),
  ),
  startCopy: plain(CHIEF, (act) => startCopy(act, { from: "empty", name: fresh("Line") })),
  saveCopy: {
    may: CHIEF,
    set: async (world) => {
      const key = await copy(world);
      return { run: (act) => saveCopy(act, { key, revision: 1, document: STARTING_POINTS[0] }) };
    },
  },
  takeOver: {
    may: CHIEF,
    set: async (world) => {
      const key = await copy(world);
      return { run: (act) => takeOver(act, key) };
    },
  },
  discardCopy: {
    may: CHIEF,
    set: async (world) => {
      const key = await copy(world);
      return { run: (act) => discardCopy(act, key) };
    },
  },
  putInUse: {
    may: CHIEF,
    set: async (world) => {
      const key = await readyLine(world);
      return { run: (act) => adopted(act, key) };
    },
  },
  cancelPlanned: {
    may: CHIEF,
    set: async (world) => {
      const key = await inUse(world, MORNING + DAY);
      return { run: (act) => cancelPlanned(act, key) };
    },
  },
  bindWorkflow: plain(CHIEF, (act, world) =>
    bindWorkflow(act, {
      scope: "section",
      scopeId: world.id("section safety"),
      workflowId: world.id("workflow safety-notice"),
    }),
  ),
  retireWorkflow: {
    may: CHIEF,
    set: async (world) => {
      const key = await inUse(world);
      return { run: (act) => retireWorkflow(act, key) };
    },
  },
  reviveWorkflow: {
    may: CHIEF,
    set: async (world) => {
      const key = await inUse(world);
      return { run: (act) => reviveWorkflow(act, key) };
    },
  },
  deleteWorkflow: {
    may: CHIEF,
    set: async (world) => {
      const key = await copy(world);
      return { run: (act) => deleteWorkflow(act, key) };
    },
  },
  saveForm: plain(CHIEF, (act, world) => saveForm(act, bulletinForm(world, fresh("Form")))),
  agreeOn: plain(CHIEF, (act) => agreeOn(act, { settings: READY_INTAKE })),
  keepModel: {
    may: CHIEF,
    set: async (world) => {
      const pieceId = await draft(world);
      return { pieceId, run: (act) => keepModel(act, { pieceId, name: fresh("Model") }) };
    },
  },
  dropModel: {
    may: CHIEF,
    set: async (world) => {
      const name = fresh("Model");
      accepted(await keepModel(world.act("ilda"), { pieceId: await draft(world), name }));
      const [row] = await world.db.select().from(modelText).where(eq(modelText.name, name));
      return { run: (act) => dropModel(act, { modelId: row?.id ?? "" }) };
    },
  },
  nameFeed: plain(CHIEF, (act) => nameFeed(act, feedAt(`https://feed.example/${fresh("x").replace(" ", "")}`))),
  lookNow: {
    may: CHIEF,
    set: async (world) => {
      const feedId = await feedNamed(world);
      return { run: (act) => lookNow(act, { feedId }) };
    },
  },
  dropFeed: {
    may: CHIEF,
    set: async (world) => {
      const feedId = await feedNamed(world);
      return { run: (act) => dropFeed(act, { feedId }) };
    },
  },
  noteIdea: plain(WORKS_HERE, (act) => noteIdea(act, { title: fresh("Idea"), words: "" })),
  judgeIdea: onIdea(WORKS_HERE, (act, on) => judgeIdea(act, { ...on, answers: {}, note: "Yes." })),
  outlineIdea: onIdea(WORKS_HERE, (act, on) => outlineIdea(act, { ...on, words: "More.", bundle: null })),
  shortlist: onIdea(JUDGES, (act, on) => shortlist(act, { ...on, on: true })),
  amend: onIdea(JUDGES, (act, on) => amend(act, { ...on, title: fresh("Called") })),
  giveTo: onIdea(JUDGES, (act, on, world) => giveTo(act, { ...on, personId: world.id("wim") })),
  decline: onIdea(JUDGES, (act, on) => decline(act, { ...on, reason: "Twice." })),
  // Who takes something up begins a piece, and joins it to one they may see.
  takeUp: onIdea(["ilda"], (act, on, world) =>
    takeUp(act, {
      ...on,
      title: fresh("Taken"),
      kindId: world.id("kind bulletin-item"),
      sectionId: world.id("section bulletin"),
      writerId: null,
      brief: "",
      publishAt: null,
    }),
  ),
  reopen: {
    may: JUDGES,
    set: async (world) => {
      const on = await noted(world);
      accepted(await decline(world.act("ilda"), { ...on, reason: "Twice." }));
      return { run: (act) => reopen(act, { ...on, revision: on.revision + 1 }) };
    },
  },
  // To whoever may not see the piece it is not there.
  joinTo: {
    may: JUDGES,
    set: async (world) => {
      const on = await noted(world);
      const { slug } = await begin(world, fresh("Joined"));
      return { run: (act) => joinTo(act, { ...on, slug }) };
    },
  },
  askBack: {
    may: CHIEF,
    set: async (world) => {
      const on = await requested(world, fresh("Requested"));
      return { run: (act) => askBack(act, { ...on, question: "When?" }) };
    },
  },
  answerReport: {
    may: CHIEF,
    set: async (world) => {
      const on = await reported(world);
      return { run: (act) => answerReport(act, { ...on, words: "Thank you." }) };
    },
  },
  takeForCorrection: {
    may: CHIEF,
    set: async (world) => {
      const on = await reported(world);
      return { run: (act) => takeForCorrection(act, on) };
    },
  },
};

/** Functions that take an act and are no command of a person, each with why it needs none of the above. */
export const NO_COMMANDS: Record<string, string> = {
  takeIn: "the job's: takes in what a feed brings, each entry once; see feeds.test.ts",
  takeMail: "for whoever sends mail; see mail-in.test.ts",
  runErrand: "the job's: sends the assistant for what somebody asked; see assist.test.ts",
  settle: "the job's: keeps what the assistant brought; see assist.test.ts",
  lookAtFeed: "the job's: takes in what a feed brings; see feeds.test.ts",
  layCall: "a rule's: in the name of its maker, on a piece they may see; see calls.test.ts",
  makeCall: "the job's: calls whom a rule says; see calls.test.ts",
  sendRequest: "for whoever has a form's address; see intake.test.ts",
  openAsked: "opened by a link's secret; see intake.test.ts",
  renewAsked: "for whoever has an old link; see intake.test.ts",
  sendLink: "for whoever says an address; see intake.test.ts",
  replyOwn: "a requester's own request; see intake.test.ts",
  amendOwn: "a requester's own request; see intake.test.ts",
  withdrawOwn: "a requester's own request; see intake.test.ts",
  sendReport: "for every reader of a released piece; see intake.test.ts",
  thankReaders: "the job's: thanks who pointed out what is corrected; see intake.test.ts",
  judging: "the path of commands on what came in; they are above",
  keepColumns: "one's own list, how it looks to oneself",
  keepFilter: "one's own list, kept under a name; what it shows is what one may see",
  dropFilter: "one's own list let go of, or a shared one by who runs the publication; see search.test.ts",
  leaveEdition: "the job's: decides at an edition's time whether it may go out; see editions.test.ts",
  lookAhead: "the job's: says ahead of its time what would hold a signed edition; see editions.test.ts",
  endNow: "the job's: what has come to its end goes from readers; see windows.test.ts",
  tellOfEnd: "the job's: tells an author what ends soon; see windows.test.ts",
  tryAgain: "the job's: tries what a rule could not do once more; see rules.test.ts",
  followLedger: "the job's: each thing a rule does goes by a command of its maker's; see rules.test.ts",
  moveAll: "moves each by planRelease or wishFor, which are above",
  confirmAll: "confirms each by confirmRelease, which is above",
  beginBundle:
    "lays down what one would do to pieces one may see; each is judged by its own command, see together.test.ts",
  fillTable: "says what one would do to each piece of one's own table; judged as a bundle is, see together.test.ts",
  doBundle: "has one's own bundle done, each piece by its own command; see together.test.ts",
  chooseTelling: "how one is told oneself; see telling.test.ts",
  giveCalendar: "one's own calendar file; see calendar-given.test.ts",
  takeCalendar: "one's own calendar file; see calendar-given.test.ts",
  workOn: "the job's: goes on with a bundle, in the name of whose it is; see together.test.ts",
  carry: "leads to the very command a piece's own page uses, which is above; see together.test.ts",
  passOn: "passes a seat or an assignment on by reassignSeat and reassign, which are above",
  passAllOn: "several of them one after the other",
  letGoOfText: "ends one's own hold of a text and nothing else",
  write: "the path every command takes",
  administering: "the path of commands that need a permission; they are above",
  changingAccess: "the path of commands on access; they are above",
  configuring: "the path of commands on workflows; they are above",
  carryOut: "the job's: decides at a release's time whether it may go out",
  thinVersions: "the job's: takes away old versions nobody relies on",
  carryOutAdoption: "the job's: decides at a workflow's date whether it may be used",
  openSession: "called once somebody has proved who they are",
  enter: "called once a password was right",
  signIn: "for people who are not signed in; see accounts.test.ts",
  askNewPassword: "for people who are not signed in; see accounts.test.ts",
  choosePassword: "opened by a link's secret; see accounts.test.ts",
  beginPublication: "opened by the first start's secret; see accounts.test.ts",
  giveSecondFactor: "opened by half a session; see accounts.test.ts",
  setUpSecondFactor: "one's own account; see accounts.test.ts",
  dropSecondFactor: "one's own account, the password asked; see accounts.test.ts",
  chooseZone: "one's own account",
  foreseeOfPlanner: "the job's: looks ahead at releases when what somebody may do changed",
  whyOnlyLooking: "a question: whether one only looks; see granting.test.ts",
  changePassword: "one's own account, the password asked; see accounts.test.ts",
  refuseWrongPassword: "asks a password, writes nothing",
  signOut: "ends one's own session",
  endSessions: "ends one's own sessions; see accounts.test.ts",
  endSeeingAs: "ends what one began oneself",
  refuseOften: "counts how often one does something; see attacks.test.ts",
  proveAnew: "one's own session, the password asked; see sessions.test.ts",
  whyUnproven: "a question: whether who acts proved who they are; see sessions.test.ts",
  newPasskey: "one's own account; writes nothing",
  addPasskey: "one's own account; see administering.spec.ts",
  dropPasskey: "one's own account; see administering.spec.ts",
  enterByPasskey: "for people who are not signed in; see administering.spec.ts",
};
