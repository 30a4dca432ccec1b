import { redirect } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, notFound, readForm, requireViewer, runCommand } from "#app/request.ts";
import { VersionsView } from "#app/views/piece/versions-page.tsx";
import { threadsOf } from "#server/remarks/queries.ts";
import { nameVersion, restoreVersion } from "#server/text/commands.ts";
import { versionsPage } from "#server/text/queries.ts";
import type { Route } from "./+types/piece-versions.ts";

export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const [from, to, before] = ["from", "to", "before"].map((key) => Number.parseInt(words.get(key) ?? "", 10));
  const page = await versionsPage(context.db, viewer, params.slug, {
    before: before || null,
    pair: from && to ? [Math.min(from, to), Math.max(from, to)] : null,
    find: (words.get("find") ?? "").trim().slice(0, 200),
  });
  if (!page) throw notFound();
  // Remarks stand in the present text: they are shown where it is one of the two.
  const shown = page.pair?.[1]?.number === page.piece.newest;
  const threads = shown ? await threadsOf(context.db, page.piece.id, viewer) : [];
  return { ...page, threads: threads.filter(({ settledAt }) => settledAt === null) };
}

const shared = { pieceId: z.uuid(), number: z.coerce.number().int() };
const passage = z.object({ from: z.int().min(0), at: z.int().min(0) });
const what = z
  .string()
  .transform((text, issue) => {
    try {
      return JSON.parse(text) as unknown;
    } catch {
      issue.addIssue({ code: "custom", message: "The passage did not arrive whole." });
      return z.NEVER;
    }
  })
  .pipe(z.union([z.object({ all: z.literal(true) }), z.object({ field: z.string(), block: passage.optional() })]));

export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "name") {
    const name = z.string().trim().max(120, "At most 120 characters fit.");
    const read = readForm(z.object({ ...shared, name }), form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => nameVersion(act, read.values));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "restore") throw notFound();
  const read = readForm(z.object({ ...shared, base: z.string(), what }), form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => restoreVersion(act, read.values));
  if (!("value" in done)) return done;
  return redirect(`/pieces/${params.slug}/versions?from=${read.values.number}&to=${done.value.version}`);
});

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Versions of ${loaderData?.piece.title ?? "a piece"} · Elenco` },
];

export default function Versions(props: Route.ComponentProps) {
  return <VersionsView {...props} />;
}
