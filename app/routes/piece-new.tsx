import { redirect } from "react-router";
import { v5, v7 } from "uuid";
import { z } from "zod";
import { moment } from "#app/forms.ts";
import { answered, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { NewPieceView } from "#app/views/piece/new.tsx";
import { type Brought, bringIn } from "#server/exchange/files.ts";
import { filesSeen } from "#server/files/queries.ts";
import { encipher } from "#server/people/secrets.ts";
import { beginnings, linesAhead } from "#server/pieces/beginning.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { BRIEF_MOST, writersFor } from "#server/pieces/commission.ts";
import { modelTexts, sourceOf } from "#server/pieces/origins.ts";
import type { Route } from "./+types/piece-new.ts";

const MOST_FILES = 20;

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const from = new URL(request.url).searchParams.get("from");
  const [ahead, writers, models, source] = await Promise.all([
    linesAhead(context.db, viewer),
    writersFor(context.db, viewer),
    modelTexts(context.db),
    from === null ? null : sourceOf(context.db, viewer, from.slice(0, 120)),
  ]);
  const begins = beginnings(viewer);
  return {
    ...begins,
    ...ahead,
    writers,
    models: models
      .filter((one) => begins.kinds.some((kind) => kind.id === one.kindId))
      .map(({ id, kindId, name }) => ({ id, kindId, name })),
    source,
    formKey: v7(),
  };
}

const schema = z.object({
  formKey: z.uuid(),
  kindId: z.string().min(1, "Choose a kind"),
  sectionId: z.string().min(1, "Choose a section"),
  title: z.string().trim(),
  publishAt: z.string().max(40).default(""),
  writerId: z.union([z.literal("").transform(() => null), z.uuid()]).default(null),
  modelId: z.union([z.literal("").transform(() => null), z.uuid()]).default(null),
  from: z.string().max(120).default(""),
  brief: z.string().trim().max(BRIEF_MOST, `At most ${BRIEF_MOST} characters fit.`).default(""),
  private: z.literal("yes").optional(),
  files: z.array(z.instanceof(File)).default([]),
});

/** What became of one file of several: a piece, or why not. */
interface FileReport {
  file: string;
  piece: { slug: string; title: string } | null;
  said: string[];
}

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const read = readForm(schema, await request.formData());
  if ("fields" in read) return misread("new", read.fields);
  const { values } = read;
  const wish = moment(viewer.zone).safeParse(values.publishAt);
  if (!wish.success) return misread("new", { publishAt: "This is no date and time." });
  const files = values.files.filter((file) => file.size > 0);
  if (files.length > MOST_FILES) return misread("new", { files: `At most ${MOST_FILES} files are taken at once.` });
  const { kinds } = beginnings(viewer);
  const fields = kinds.find((kind) => kind.id === values.kindId)?.fields ?? [];
  const seen = (ids: readonly string[]) => filesSeen(context.db, viewer, ids);
  const begin = (formKey: string | undefined, title: string, more: Brought | null) =>
    runCommand("new", () =>
      createPiece(context.act(viewer.id, formKey), {
        kindId: values.kindId,
        sectionId: values.sectionId,
        title,
        private: values.private === "yes",
        publishAt: wish.data,
        from: values.from ? { slug: values.from } : values.modelId ? { modelId: values.modelId } : null,
        commission: values.writerId ? { writerId: values.writerId, brief: values.brief } : null,
        ...(more ? { fields: more.fields, files: more.files } : {}),
      }),
    );
  if (files.length <= 1) {
    const [file] = files;
    const brought = file
      ? await bringIn(file.name, Buffer.from(await file.arrayBuffer()), fields, seen, viewer.id)
      : null;
    if (brought && "problem" in brought) return misread("new", { files: brought.problem });
    const title = values.title || brought?.title || "";
    if (!title) return misread("new", { title: "Give the piece a title; it can change later." });
    const done = await begin(values.formKey, title, brought);
    if (!("value" in done)) return done;
    const report = brought?.leftOut.length
      ? `?imported=${encodeURIComponent(encipher(brought.leftOut.join(" ")))}`
      : "";
    return redirect(`/pieces/${done.value.slug}${report}`);
  }
  const reports: FileReport[] = [];
  for (const [i, file] of files.entries()) {
    const brought = await bringIn(file.name, Buffer.from(await file.arrayBuffer()), fields, seen, viewer.id);
    if ("problem" in brought) {
      reports.push({ file: file.name, piece: null, said: [brought.problem] });
      continue;
    }
    const title = brought.title ?? file.name.replace(/\.\w+$/, "");
    const done = await begin(v5(String(i), values.formKey), title, brought);
    if ("value" in done)
      reports.push({ file: file.name, piece: { slug: done.value.slug, title }, said: brought.leftOut });
    else
      reports.push({ file: file.name, piece: null, said: [done.data.refusal?.sentence ?? "It could not be begun."] });
  }
  return { ...answered("new"), reports };
});

export const meta: Route.MetaFunction = () => [{ title: "New piece · Elenco" }];

export default function NewPiece(props: Route.ComponentProps) {
  return <NewPieceView {...props} />;
}
