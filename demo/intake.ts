import { and, asc, eq, isNotNull } from "drizzle-orm";
import { readFeed } from "#core/intake/feed.ts";
import type { Field } from "#core/text/field.ts";
import type { Database } from "#server/db/client.ts";
import { feed, intakeItem, piece, task } from "#server/db/schema/index.ts";
import { nameFeed, standInFeed, takeIn } from "#server/intake/feeds.ts";
import { saveForm } from "#server/intake/forms.ts";
import { judgeIdea, noteIdea, outlineIdea, shortlist } from "#server/intake/ideas.ts";
import { answerReport, sendReport } from "#server/intake/reports.ts";
import { sendRequest } from "#server/intake/requests.ts";
import { askBack, decline, giveTo, takeUp } from "#server/intake/triage.ts";
import { standInEntries } from "#server/standins/feed.ts";
import type { Act } from "#server/write.ts";
import { done } from "./done.ts";

const DAY = 86_400_000;
const HOUR = 3_600_000;

type As = (who: string, now: number) => Act;
interface Ids {
  person(key: string): string;
  section(key: string): string;
  kind(key: string): string;
}

const line = (name: string, more: Partial<Field> = {}): Field => ({
  key: "",
  name,
  type: "line",
  required: false,
  ...more,
});

const BULLETIN: Field[] = [
  {
    ...line("Text"),
    key: "body",
    type: "manuscript",
    required: true,
    maxWords: 90,
    guidance: "What, where, when, for whom.",
  },
  line("When it happens", { type: "date" }),
  line("Who can be asked", { required: true, maxCharacters: 120, guidance: "A name and a telephone number." }),
  line("For whom", { type: "choice", options: ["walkers", "members", "everybody"] }),
];
const MISTAKE: Field[] = [
  line("Which path", { required: true, maxCharacters: 120 }),
  line("What is wrong", { type: "manuscript", required: true, guidance: "What you found, and on which day." }),
  line("How sure you are", { type: "choice", options: ["I was there", "I was told"], required: true }),
];

const WARDENS = {
  ottavia: { email: "ottavia.prell@huts.fontelba.example", name: "Ottavia Prell" },
  tilde: { email: "tilde.amsoor@huts.fontelba.example", name: "Tilde Amsoor" },
  rocco: { email: "rocco.venn@valleybus.example", name: "Rocco Venn" },
};

/** Forms, requests, ideas and what readers said, in every condition. */
export async function fillIntake(db: Database, act: As, ids: Ids, now: number): Promise<void> {
  const forms = await layForms(act, ids, now);
  await layRequests(db, act, ids, forms, now);
  await layIdeas(db, act, now);
  await layReports(db, act, now);
  await layMaterial(db, act, ids, now);
}

async function layForms(act: As, ids: Ids, now: number) {
  const chief = act("ilda", now - 60 * DAY);
  const shared = { id: "", revision: 0, holderId: null, invited: [], on: true };
  const bulletin = await saveForm(chief, {
    ...shared,
    name: "Something for the bulletin",
    about: "For hut wardens and everybody who has news for walkers. The bulletin leaves on Thursdays at 7.",
    kindId: ids.kind("bulletin-item"),
    sectionId: ids.section("bulletin"),
    channel: "bulletin",
    lead: "2wd",
    promise: "1wd",
    openTo: "anybody",
    fields: BULLETIN,
  });
  const mistake = await saveForm(chief, {
    ...shared,
    name: "A mistake on a path",
    about: "Something on a path is no longer as we say it is.",
    kindId: ids.kind("safety-notice"),
    sectionId: ids.section("safety"),
    channel: null,
    lead: null,
    promise: "6wh",
    openTo: "anybody",
    holderId: ids.person("lene"),
    fields: MISTAKE,
  });
  return { bulletin: done(bulletin).key, mistake: done(mistake).key };
}

async function layRequests(
  db: Database,
  act: As,
  ids: Ids,
  forms: { bulletin: string; mistake: string },
  now: number,
): Promise<void> {
  const ask = async (
    who: keyof typeof WARDENS,
    form: string,
    title: string,
    at: number,
    answers: Record<string, string>,
    wishedAt: number | null = null,
    known = true,
  ) => {
    const sender = { address: `demo ${title}`, known: known ? WARDENS[who] : null, team: false };
    done(await sendRequest(act("ilda", at), { form, title, ...WARDENS[who], answers, wishedAt }, sender));
    return item(db, title);
  };
  const contact = "Ottavia at the hut, 0471 55 01";
  await ask(
    "ottavia",
    forms.bulletin,
    "The winter room is open",
    now - 26 * HOUR,
    {
      body: "From Saturday the winter room of the Rifugio Valsorda is open. There is wood, a stove and eight beds; the water is off. Please leave it as you found it.",
      "when-it-happens": "2026-11-28",
      "who-can-be-asked": contact,
      "for-whom": "walkers",
    },
    now + 9 * DAY,
  );
  await ask("tilde", forms.bulletin, "Soup evening with songs", now - 20 * HOUR, {
    body: "We cook, you sing. On the second Friday of December, at the Malga Serra.",
    "for-whom": "everybody",
  });
  const shuttle = await ask(
    "rocco",
    forms.bulletin,
    "The last bus leaves earlier",
    now - 50 * HOUR,
    {
      body: "From the first of December the last bus leaves Ponte Scuro earlier than in summer.",
      "who-can-be-asked": "Rocco, depot, 0471 55 90",
      "for-whom": "everybody",
    },
    now + 6 * DAY,
  );
  done(
    await askBack(act("ilda", now - 30 * HOUR), {
      ...shuttle,
      question: "How much earlier, and does it hold on Sundays too?",
    }),
  );
  const raffle = await ask("tilde", forms.bulletin, "A raffle for a new flag", now - 12 * DAY, {
    body: "The hut needs a flag. Tickets are sold at the bar.",
    "who-can-be-asked": "Tilde, 0471 55 12",
  });
  done(await decline(act("ilda", now - 11 * DAY), { ...raffle, reason: "It is not for our readers." }));
  const stove = await ask(
    "ottavia",
    forms.bulletin,
    "The stove at the bivouac was mended",
    now - 5 * DAY,
    {
      body: "The stove at the Bivacco Alto draws again. Bring your own kindling; what lies there is for emergencies.",
      "who-can-be-asked": contact,
    },
    now + 13 * DAY,
  );
  done(
    await takeUp(act("ilda", now - 4 * DAY), {
      ...stove,
      title: "The stove at the bivouac draws again",
      kindId: ids.kind("bulletin-item"),
      sectionId: ids.section("bulletin"),
      writerId: ids.person("noor"),
      brief: "Sixty words; say that the kindling is for emergencies.",
      publishAt: now + 13 * DAY,
    }),
  );
  await ask("rocco", forms.mistake, "The sign at the second bridge points the wrong way", now - 7 * HOUR, {
    "which-path": "From Ponte Scuro to the Malga Serra",
    "what-is-wrong": "Somebody turned the sign at the second bridge. It points down to the gorge.",
    "how-sure-you-are": "I was there",
  });
  await ask("tilde", forms.bulletin, "A lost glove", now - 3 * HOUR, { body: "One glove, left hand." }, null, false);
}

/** Something that came in by its title, as a command names it. */
async function item(db: Database, title: string) {
  const [row] = await db
    .select({ itemId: intakeItem.id, revision: intakeItem.revision })
    .from(intakeItem)
    .where(eq(intakeItem.title, title));
  if (!row) throw new Error(`the demo has no ${title}`);
  return row;
}

async function layIdeas(db: Database, act: As, now: number): Promise<void> {
  const note = async (who: string, title: string, at: number, words = "") => {
    done(await noteIdea(act(who, at), { title, words }));
    return item(db, title);
  };
  const wells = await note("noor", "Every spring one can drink from, on one map", now - 8 * DAY);
  done(
    await outlineIdea(act("noor", now - 8 * DAY), {
      ...wells,
      words:
        "We name springs in forty guides and never say whether one can drink from them. Ask the wardens; mark those that dry up in August.",
      bundle: "Water",
    }),
  );
  const judge = (who: string, on: { itemId: string; revision: number }, answers: Record<string, string>, line = "") =>
    judgeIdea(act(who, now - 5 * DAY), { ...on, answers, note: line });
  done(await judge("ilda", wells, { readers: "many would", ours: "only we can", now: "this season" }));
  done(
    await judge("wim", wells, { readers: "many would", ours: "only we can", now: "no hurry" }, "I have half the list."),
  );
  done(await judge("sefa", wells, { readers: "a few would", ours: "as well as anybody", now: "this season" }));
  done(
    await shortlist(act("ilda", now - 4 * DAY), {
      ...(await item(db, "Every spring one can drink from, on one map")),
      on: true,
    }),
  );
  await note("wim", "What a path costs: a day with who mends them", now - 6 * DAY);
  await note("tobia", "Walks for a day with rain", now - 3 * DAY, "Woods, gorges, anything with a roof in reach.");
  const ghost = await note("mina", "Ghost stories of the huts", now - 190 * DAY);
  done(
    await decline(act("ilda", now - 186 * DAY), {
      ...ghost,
      reason: "Every almanac has them; ours would be the ninth.",
    }),
  );
  const levels = await note("jorun", "How high the stream at the ford stands, day by day", now - 2 * DAY);
  done(await outlineIdea(act("jorun", now - 2 * DAY), { ...levels, words: "", bundle: "Water" }));
}

async function layReports(db: Database, act: As, now: number): Promise<void> {
  const [first, second] = await db
    .select({ slug: piece.slug, title: piece.title })
    .from(piece)
    .where(and(isNotNull(piece.liveVersionId), eq(piece.stateKey, "live")))
    .orderBy(asc(piece.id))
    .limit(2);
  if (!first || !second) return;
  const says = async (slug: string, at: number, words: string, quote: string, email: string | null, name: string) =>
    done(await sendReport(act("ilda", at), { slug, words, quote, email, name }, `demo ${slug}`));
  await says(
    first.slug,
    now - 29 * HOUR,
    "The path is closed behind the chapel since the storm.",
    "",
    "p.ardent@post.example",
    "P. Ardent",
  );
  await says(
    second.slug,
    now - 9 * DAY,
    "Is the bus stop still there in winter?",
    "",
    "lia.brandt@post.example",
    "Lia Brandt",
  );
  const asked = await item(db, second.title);
  done(await giveTo(act("ilda", now - 9 * DAY), { ...asked, personId: act("kai", now).personId ?? "" }));
  done(
    await answerReport(act("kai", now - 8 * DAY), {
      ...(await item(db, second.title)),
      words: "It is, but only on weekdays. Thank you for asking.",
    }),
  );
}

/** A feed that was looked at, and what it brought. */
async function layMaterial(db: Database, act: As, ids: Ids, now: number): Promise<void> {
  const chief = act("ilda", now - 2 * DAY);
  const named = { name: "Avalanche service", url: standInFeed(""), kindId: ids.kind("safety-notice") };
  done(
    await nameFeed(chief, { ...named, sectionId: ids.section("safety"), holderId: ids.person("lene"), keepDays: 14 }),
  );
  const [row] = await db.select().from(feed);
  if (!row) return;
  const { atom } = standInEntries(now - DAY, chief.baseUrl);
  const read = readFeed(atom);
  if ("problem" in read) throw new Error(read.problem);
  await takeIn({ ...act("ilda", now - DAY), personId: null }, row, read.entries);
  await db.update(feed).set({ checkedAt: now - DAY });
  await db
    .update(task)
    .set({ dueAt: now + HOUR })
    .where(eq(task.kind, "feed"));
}
