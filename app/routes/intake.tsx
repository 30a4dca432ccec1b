import { data, redirect } from "react-router";
import { z } from "zod";
import { form, formNamed, moment, type PageForm } from "#app/forms.ts";
import { answered, guarded, misread, notFound, readForm, requireViewer } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { IntakeView } from "#app/views/intake/intake.tsx";
import { SORTS } from "#core/intake/item.ts";
import { colleagues } from "#server/choices.ts";
import {
  judgeIdea,
  judgeInput,
  noteIdea,
  noteInput,
  outlineIdea,
  outlineInput,
  shortlist,
  shortlistInput,
} from "#server/intake/ideas.ts";
import { judgesAnywhere } from "#server/intake/items.ts";
import { intakeCounts, intakeList, intakePage, type Wanted } from "#server/intake/queries.ts";
import { answerInput, answerReport, correctInput, takeForCorrection } from "#server/intake/reports.ts";
import {
  amend,
  amendInput,
  askBack,
  askInput,
  decline,
  declineInput,
  giveInput,
  giveTo,
  joinInput,
  joinTo,
  reopen,
  reopenInput,
  takeInput,
  takeUp,
} from "#server/intake/triage.ts";
import { inJson } from "#server/piece/input.ts";
import type { Act } from "#server/write.ts";
import type { Route } from "./+types/intake.ts";

export async function loader(args: Route.LoaderArgs) {
  const viewer = await requireViewer(args.context, args.request);
  const { db } = args.context;
  const words = new URL(args.request.url).searchParams;
  const get = (name: string) => (words.get(name) ?? "").slice(0, 100);
  const wanted: Wanted = {
    show: get("show") === "done" ? "done" : get("show") === "short" ? "short" : "open",
    sort: SORTS.find((one) => one === get("sort")) ?? null,
    mine: get("mine") === "yes",
    words: get("words"),
    after: get("after"),
  };
  const id = get("item");
  const [list, counts, chosen] = await Promise.all([
    intakeList(db, viewer, wanted),
    intakeCounts(db, viewer),
    id === "" ? null : intakePage(db, viewer, id),
  ]);
  if (id !== "" && !chosen) throw notFound();
  const { reasons, questions } = viewer.places.intake;
  return {
    ...list,
    counts,
    chosen,
    wanted,
    reasons,
    questions,
    people: judgesAnywhere(viewer, viewer.now) ? colleagues(viewer) : [],
    me: viewer.id,
  };
}

/** So many are judged with one press: each is a write of its own. */
const MANY = 60;

const many = z.object({
  items: inJson(
    z
      .array(z.object({ itemId: z.uuid(), revision: z.int(), title: z.string() }))
      .min(1)
      .max(MANY),
  ),
  reason: declineInput.shape.reason.optional(),
  personId: giveInput.shape.personId.optional(),
});

const judged = z.looseObject({ itemId: z.uuid(), revision: z.coerce.number().int(), note: judgeInput.shape.note });

/** An idea's judgement as its form sends it: a value for each question, under its key. */
const judging = judged.transform(({ itemId, revision, note, ...given }) => ({
  itemId,
  revision,
  note,
  answers: Object.fromEntries(
    Object.entries(given).flatMap(([name, value]) =>
      name.startsWith("q.") && typeof value === "string" ? [[name.slice(2), value.slice(0, 40)]] : [],
    ),
  ),
}));

const formsOf = (zone: string): Record<string, PageForm> => ({
  note: form(noteInput, noteIdea),
  outline: form(outlineInput, outlineIdea),
  judge: form(judging, judgeIdea),
  shortlist: form(shortlistInput, shortlist),
  amend: form(amendInput, amend, true),
  ask: form(askInput, askBack, true),
  give: form(giveInput, giveTo, true),
  decline: form(declineInput, decline, true),
  reopen: form(reopenInput, reopen),
  answer: form(answerInput, answerReport, true),
  join: form(joinInput, joinTo, true),
  take: form(takeInput.extend({ publishAt: moment(zone) }), takeUp, true),
  correct: form(correctInput, takeForCorrection, true),
});

/** After these one goes on with the same thing. */
const STAYS = ["give", "amend"];

export const action = guarded(async (args: Route.ActionArgs) => {
  const viewer = await requireViewer(args.context, args.request);
  const sent = await args.request.formData();
  const intent = String(sent.get("intent"));
  const act = args.context.act(viewer.id);
  if (intent === "decline-many" || intent === "give-many") return judgeMany(intent, sent, act);
  const wanted = formNamed(formsOf(viewer.zone), intent);
  const done = await wanted.submit(intent, sent, act);
  if (!("value" in done)) return done;
  const { slug, id } = (done.value ?? {}) as { slug?: string; id?: string };
  if (intent === "correct") return redirect(`/pieces/${slug}`);
  const words = new URL(args.request.url).searchParams;
  words.delete("do");
  words.delete("new");
  if (intent === "note") return data({ ...answered(intent), noted: id ?? null });
  if (!wanted.leaves) return answered(intent);
  if (STAYS.includes(intent)) return redirect(`/intake?${words}`);
  // What is settled gives way to the next that waits.
  const next = String(sent.get("next") ?? "");
  if (z.uuid().safeParse(next).success) words.set("item", next);
  else words.delete("item");
  return redirect(`/intake?${words}`);
});

/** The same done with many, each on its own: what could not be is said with its reason. */
async function judgeMany(intent: string, sent: FormData, act: Act) {
  const read = readForm(many, sent);
  if ("fields" in read) return misread(intent, read.fields);
  const { items, reason, personId } = read.values;
  const missing: string[] = [];
  for (const { title, ...item } of items) {
    const done =
      intent === "decline-many"
        ? await decline(act, { ...item, reason: reason ?? "" })
        : await giveTo(act, { ...item, personId: personId ?? "" });
    if (!done.ok) missing.push(`${title}: ${done.refusal.sentence}`);
  }
  if (missing.length === 0) return answered(intent);
  const sentence = `${missing.length} of ${items.length} could not be done.`;
  return data({ intent, fields: {}, refusal: { code: "some", sentence, missing } }, { status: 422 });
}

export const meta: Route.MetaFunction = () => [{ title: "Intake · Elenco" }];

export default function Intake({ loaderData, actionData }: Route.ComponentProps) {
  return <IntakeView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}
