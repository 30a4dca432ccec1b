import { useCallback, useMemo, useRef } from "react";
import { data, redirect, useRevalidator, useSearchParams } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { keepLast, useKept } from "#app/views/frame/keep-last.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { Comments } from "#app/views/piece/comments.tsx";
import { useDraft } from "#app/views/piece/draft.ts";
import { Fields } from "#app/views/piece/fields.tsx";
import { Head } from "#app/views/piece/head.tsx";
import { Panel } from "#app/views/piece/panel.tsx";
import { Passage } from "#app/views/piece/passage.tsx";
import { Text } from "#app/views/piece/text.tsx";
import { fromLocalInput } from "#core/time/local.ts";
import { addComment, settleComment, tickPoint } from "#server/comments/commands.ts";
import { problemsOfFiles } from "#server/files/queries.ts";
import { inviteGuest, revokeGuest } from "#server/guests/commands.ts";
import { guestsOf } from "#server/guests/queries.ts";
import { markRead } from "#server/notices/commands.ts";
import { sendPiece } from "#server/passage/commands.ts";
import { decide } from "#server/passage/deciding.ts";
import { piecePage } from "#server/pieces/page.ts";
import { cancelRelease, planRelease } from "#server/release/commands.ts";
import { noteLook } from "#server/text/queries.ts";
import { abandonRevision } from "#server/text/revision.ts";
import type { Viewer } from "#server/viewer.ts";
import { lineChoices, putOnLine } from "#server/workflows/one-piece.ts";
import { mayConfigure } from "#server/workflows/staff.ts";
import type { Route } from "./+types/piece.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const page = await piecePage(context.db, viewer, params.slug);
  if (!page) throw notFound();
  if (!viewer.seenBy)
    await Promise.all([markRead(context.db, viewer, page.row.id), noteLook(context.db, viewer, page.row.id)]);
  const configure = mayConfigure(viewer, viewer.now) && page.inFlight;
  const asked = new URL(request.url).searchParams.get("do") === "line";
  const { kind, content } = page;
  const shown = { fields: kind.fields, content };
  const [lines, guests, fileProblems] = await Promise.all([
    configure && asked ? lineChoices(context.db) : [],
    page.invites ? guestsOf(context.db, page.row.id, viewer) : [],
    problemsOfFiles(context.files, page.files, shown, false),
  ]);
  return { ...page, formKey: v7(), configure, lines, guests, fileProblems };
}

export const clientLoader = keepLast<Awaited<ReturnType<typeof loader>>>();

const moment = (zone: string) =>
  z
    .string()
    .default("")
    .transform((text, issue) => {
      if (text === "") return null;
      const at = fromLocalInput(text, zone);
      if (at === null) issue.addIssue({ code: "custom", message: "This is no date and time." });
      return at;
    });
const shared = { formKey: z.uuid(), pieceId: z.uuid() };
const revision = z.coerce.number().int();
const note = z.string().max(4000, "At most 4000 characters fit.").default("");

/** Every form of the page: its schema, and the command it leads to. */
const FORMS = {
  send: (viewer: Viewer) => ({
    schema: z.object({
      ...shared,
      revision,
      transition: z.string(),
      note,
      dueAt: moment(viewer.zone),
      publishAt: moment(viewer.zone),
      urgency: z.enum(["normal", "urgent"]).default("normal"),
      reviewers: z.array(z.uuid()).default([]),
    }),
    run: sendPiece,
  }),
  decide: () => ({
    schema: z.object({
      ...shared,
      versionHash: z.string(),
      verdict: z.enum(["approve", "return", "decline", "abstain"]),
      note,
    }),
    run: decide,
  }),
  comment: () => ({ schema: z.object({ ...shared, body: z.string() }), run: addComment }),
  settle: () => ({ schema: z.object({ ...shared, commentId: z.uuid(), settled: z.stringbool() }), run: settleComment }),
  tick: () => ({
    schema: z.object({ ...shared, position: z.coerce.number().int(), done: z.stringbool() }),
    run: tickPoint,
  }),
  plan: (viewer: Viewer) => ({
    schema: z.object({ ...shared, revision, at: moment(viewer.zone) }),
    run: (act: Parameters<typeof planRelease>[0], plan: { pieceId: string; revision: number; at: number | null }) =>
      planRelease(act, { ...plan, at: plan.at ?? 0 }),
  }),
  line: () => ({
    schema: z.object({ ...shared, revision, on: z.string().regex(/^[^/]+\/[^/]+$/, "Choose where it goes on.") }),
    run: (act: Parameters<typeof putOnLine>[0], { on, ...rest }: { pieceId: string; revision: number; on: string }) => {
      const [workflow = "", state = ""] = on.split("/");
      return putOnLine(act, { ...rest, workflow, state });
    },
  }),
  "invite-guest": (viewer: Viewer) => ({
    schema: z.object({
      ...shared,
      label: z.string().trim().min(1, "Whom it is for.").max(100, "At most 100 characters fit."),
      until: moment(viewer.zone).transform((at) => at ?? 0),
      decides: z.stringbool().default(false),
    }),
    run: inviteGuest,
  }),
  abandon: () => ({ schema: z.object({ ...shared, revision, note }), run: abandonRevision }),
  "revoke-guest": () => ({ schema: z.object({ ...shared, guestId: z.uuid() }), run: revokeGuest }),
  cancel: () => ({ schema: z.object({ ...shared, revision }), run: cancelRelease }),
} as const;

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  if (!Object.hasOwn(FORMS, intent)) throw data(null, { status: 400 });
  const { schema, run } = FORMS[intent as keyof typeof FORMS](viewer);
  const read = readForm(schema, form);
  if ("fields" in read) return misread(intent, read.fields);
  const { values } = read;
  const done = await runCommand<unknown>(intent, () => run(context.act(viewer.id, values.formKey), values as never));
  if (!("value" in done)) return done;
  if (intent === "invite-guest") return { ...answered(intent), ...(done.value as { link: string }) };
  const leaves = ["send", "decide", "plan", "cancel", "line", "abandon"].includes(intent);
  return leaves ? redirect(`/pieces/${params.slug}`) : answered(intent);
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${(loaderData as { row?: { title: string } } | undefined)?.row?.title ?? "Piece"} · Elenco` },
];

export default function Piece({ loaderData: page, actionData }: Route.ComponentProps) {
  useKept(clientLoader, page);
  const answer = useLastAnswer(actionData);
  return <PieceView key={page.row.id} page={page} answer={answer ?? null} />;
}

function PieceView({
  page,
  answer,
}: {
  page: Route.ComponentProps["loaderData"];
  answer: Route.ComponentProps["actionData"] | null;
}) {
  const { revalidate } = useRevalidator();
  const latest = useRef(revalidate);
  latest.current = revalidate;
  const onSaved = useCallback(() => void latest.current(), []);
  const server = useMemo(
    () => ({
      content: page.content,
      version: page.version.number,
      hash: page.version.hash,
      author: page.version.author ?? "somebody",
    }),
    [page],
  );
  const draft = useDraft(page.row, server, page.editable, onSaved);
  const [words] = useSearchParams();
  const doing = words.get("do");
  return (
    <div className="flex min-h-full flex-col">
      <Head page={page} draft={draft} />
      {words.get("imported") && (
        <p className="border-b border-rule bg-wash px-6 py-2 text-13">{words.get("imported")}</p>
      )}
      <div className="grid flex-1 grid-cols-[minmax(0,1fr)] lg:grid-cols-[196px_minmax(0,1fr)_316px]">
        <div className="order-2 border-rule px-4 py-4 md:px-6 lg:order-1 lg:border-r lg:pr-4">
          <Fields page={page} draft={draft} answer={answer} />
        </div>
        <div className="order-1 px-4 py-6 lg:order-2 lg:px-14">
          <Text page={page} draft={draft} />
        </div>
        <div className="order-3 space-y-6 border-rule bg-enamel px-4 py-4 lg:border-l">
          {doing && (
            <Panel
              key={doing}
              doing={doing}
              page={page}
              saving={page.editable && draft.state.kind !== "saved"}
              answer={answer}
            />
          )}
          <Comments page={page} answer={answer} />
          <Passage entries={page.passage} />
        </div>
      </div>
    </div>
  );
}
