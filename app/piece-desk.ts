import { type AppLoadContext, redirect } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { fillEdition, fillInput } from "#server/editions/commands.ts";
import { openEditions } from "#server/editions/queries.ts";
import { problemsOfFiles } from "#server/files/queries.ts";
import { guestInput, inviteGuest, revokeGuest, revokeInput } from "#server/guests/commands.ts";
import { guestsOf } from "#server/guests/queries.ts";
import { broughtTo } from "#server/intake/queries.ts";
import {
  overrideInput,
  overrideStep,
  recallInput,
  recallPiece,
  sendInput,
  sendPiece,
} from "#server/passage/commands.ts";
import { decide, decideInput } from "#server/passage/deciding.ts";
import {
  addSeat,
  addSeatInput,
  changeDue,
  changeDueInput,
  reassign,
  reassignInput,
  reassignSeat,
  reassignSeatInput,
} from "#server/passage/routing.ts";
import { decipher } from "#server/people/secrets.ts";
import { tickInput, tickPoint } from "#server/pieces/checklist.ts";
import { handBack, handBackInput, takeCommission, takeInput } from "#server/pieces/commission.ts";
import { deleteInput, deletePiece } from "#server/pieces/deleting.ts";
import { keepModel, keepModelInput, originsOf } from "#server/pieces/origins.ts";
import { piecePage } from "#server/pieces/page.ts";
import { placeChoices, placeInput, placePiece, previewPlace } from "#server/pieces/placing.ts";
import { nextOnTurn } from "#server/pieces/turn.ts";
import {
  cancelInput,
  cancelRelease,
  confirmInput,
  confirmRelease,
  planInput,
  planRelease,
  withdrawInput,
  withdrawPiece,
} from "#server/release/commands.ts";
import { endAt, endInput } from "#server/release/ending.ts";
import { embargoInput, setEmbargo, wishFor, wishInput } from "#server/release/wishes.ts";
import {
  remark,
  remarkInput,
  reply,
  replyInput,
  rewordComment,
  rewordInput,
  sendRemarks,
  sendRemarksInput,
  takeBack,
  takeBackInput,
} from "#server/remarks/commands.ts";
import { askOpinion, opinionInput } from "#server/remarks/opinion.ts";
import { acceptProposals, proposalsInput, setAside } from "#server/remarks/proposals.ts";
import { pinInput, pinThread, settleInput, settleThread } from "#server/remarks/settle.ts";
import { abandonInput, abandonRevision } from "#server/text/revision.ts";
import type { Viewer } from "#server/viewer.ts";
import { lineChoices, lineInput, putOnLine } from "#server/workflows/one-piece.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import { form, formKeyOf, formNamed, moment, type PageForm, someMoment } from "./forms.ts";
import { answered, guarded, notFound, requireViewer } from "./request.ts";

/** Where a request for a piece comes in. */
interface Asked {
  context: AppLoadContext;
  request: Request;
  params: { slug: string };
}

/** A piece with what its forms need, for whoever may see it. @throws the one 404 for everybody else */
export async function deskOf(asked: Asked) {
  const desk = await findDesk(asked);
  if (!desk) throw notFound();
  return desk;
}

/** The same; null where there is none for them. */
export async function findDesk({ context, request, params }: Asked) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const page = await piecePage(context.db, viewer, params.slug, words.has("do"));
  if (!page) return null;
  const configure = mayConfigure(viewer, viewer.now) && page.inFlight;
  const asked = (panel: string) => words.get("do") === panel;
  const { kind, content } = page;
  const shown = { fields: kind.fields, content };
  const place = { sectionId: words.get("section"), kindId: words.get("kind"), authorId: words.get("author") };
  const there = z.object({ sectionId: z.uuid(), kindId: z.uuid(), authorId: z.uuid() }).safeParse(place);
  const [next, lines, places, placed, guests, fileProblems, editions, brought, origins] = await Promise.all([
    nextOnTurn(context.db, viewer, params.slug),
    configure && asked("line") ? lineChoices(context.db) : [],
    page.routing && asked("place") ? placeChoices(context.db, viewer, page.row.id) : null,
    page.routing && asked("place") && there.success ? previewPlace(context.db, viewer, params.slug, there.data) : null,
    page.invites ? guestsOf(context.db, page.row.id, viewer) : [],
    problemsOfFiles(context.files, page.files, shown, false),
    page.through.fills && asked("through") ? openEditions(context.db, viewer) : [],
    broughtTo(context.db, viewer, page.row.id),
    originsOf(context.db, viewer, page.row.id),
  ]);
  return {
    ...page,
    imported: reportIn(words.get("imported")),
    formKey: v7(),
    next,
    configure,
    lines,
    places,
    placed,
    guests,
    fileProblems,
    openEditions: editions,
    brought,
    origins,
  };
}

/** What was said of a file the piece was begun from: our own words alone, whatever the address says. */
function reportIn(sealed: string | null): string | null {
  try {
    return sealed === null ? null : decipher(sealed);
  } catch {
    return null;
  }
}

/** Every form of the page: its command's input, and the command. */
function formsOf({ zone }: Viewer): Record<string, PageForm> {
  const dates = { dueAt: moment(zone), publishAt: moment(zone) };
  return {
    send: form(sendInput.extend(dates), sendPiece, true),
    decide: form(decideInput.extend({ dueAt: moment(zone) }), decide, true),
    "keep-model": form(keepModelInput, keepModel, true),
    recall: form(recallInput, recallPiece, true),
    override: form(overrideInput, overrideStep, true),
    comment: form(remarkInput, remark),
    remark: form(remarkInput, remark),
    reply: form(replyInput, reply),
    reword: form(rewordInput, rewordComment),
    "take-back": form(takeBackInput, takeBack),
    "send-remarks": form(sendRemarksInput, sendRemarks),
    settle: form(settleInput, settleThread),
    pin: form(pinInput, pinThread),
    accept: form(proposalsInput, acceptProposals),
    aside: form(proposalsInput, setAside),
    tick: form(tickInput, tickPoint),
    plan: form(planInput.extend({ at: someMoment(zone), endsAt: moment(zone) }), planRelease, true),
    end: form(endInput.extend({ endsAt: moment(zone) }), endAt, true),
    embargo: form(embargoInput.extend({ until: moment(zone) }), setEmbargo, true),
    "take-on": form(takeInput, takeCommission),
    "hand-back": form(handBackInput, handBack, true),
    wish: form(wishInput.extend({ at: moment(zone) }), wishFor, true),
    confirm: form(confirmInput, confirmRelease, true),
    cancel: form(cancelInput, cancelRelease, true),
    fill: form(intoEdition, fillEdition, true),
    withdraw: form(withdrawInput, withdrawPiece, true),
    "seat-to": form(reassignSeatInput, reassignSeat),
    "add-seat": form(addSeatInput, addSeat),
    opinion: form(opinionInput, askOpinion, true),
    due: form(changeDueInput.extend({ dueAt: moment(zone) }), changeDue),
    "pass-on": form(reassignInput, reassign),
    place: form(placeInput, placePiece, true),
    line: form(onLine, putOnLine, true),
    "invite-guest": form(
      guestInput.extend({ until: someMoment(zone), decides: z.stringbool().default(false) }),
      inviteGuest,
    ),
    "revoke-guest": form(revokeInput, revokeGuest),
    abandon: form(abandonInput, abandonRevision, true),
    delete: form(deleteInput, deletePiece),
  };
}

/** One piece into an edition, from its own page. */
const intoEdition = fillInput
  .omit({ pieces: true })
  .extend({ editionId: z.uuid("Choose an edition."), pieceId: z.uuid() })
  .transform(({ pieceId, ...rest }) => ({ ...rest, pieces: [pieceId] }));

/** The line and the stop are one choice. */
const onLine = lineInput
  .omit({ workflow: true, state: true })
  .extend({ on: z.string().regex(/^[^/]+\/[^/]+$/, "Choose where it goes on.") })
  .transform(({ on, ...rest }) => {
    const [workflow = "", state = ""] = on.split("/");
    return { ...rest, workflow, state };
  });

/**
 * Does what a form of a piece asks, wherever it was shown.
 *
 * @param after where one is when it is through; the piece itself, unless it is said
 */
export const actOnPiece = guarded(async ({ context, request, params, after }: Asked & { after?: string }) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const wanted = formNamed(formsOf(viewer), intent);
  const done = await wanted.submit(intent, sent, context.act(viewer.id, formKeyOf(sent)));
  if (!("value" in done)) return done;
  if (intent === "delete") return redirect("/pieces/deleted");
  if (intent === "invite-guest") return { ...answered(intent), ...(done.value as { link: string }) };
  return wanted.leaves ? redirect(after ?? `/pieces/${params.slug}`) : answered(intent);
});
