import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { attachFile, describeFile, removeFile } from "#server/files/commands.ts";
import type { Route } from "./+types/piece-files.ts";

const words = (most: number) => z.string().trim().max(most, `At most ${most} characters fit.`).default("");
const said = {
  pieceId: z.uuid(),
  name: words(200).refine((name) => name !== "", "A file needs a name."),
  description: words(1000),
  credit: words(200).refine((credit) => credit !== "", "Whom it is by."),
  licence: words(200).refine((licence) => licence !== "", "By what right it may be shown."),
};
const fileId = z.string().regex(/^[0-9a-f]{64}$/);
const FORMS = {
  attach: z.object({ ...said, file: z.instanceof(File, { error: "Choose a file." }) }),
  describe: z.object({ ...said, fileId }),
  remove: z.object({ pieceId: z.uuid(), fileId, removed: z.stringbool() }),
};

/** Where files are brought to a piece, described, taken out and put back. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  const act = context.act(viewer.id);
  if (intent === "attach") {
    const read = readForm(FORMS.attach, form);
    if ("fields" in read) return misread(intent, read.fields);
    const { file, ...values } = read.values;
    const bytes = Buffer.from(await file.arrayBuffer());
    const done = await runCommand(intent, () => attachFile(act, { ...values, bytes }));
    return "value" in done ? { ...answered(intent), file: done.value.id } : done;
  }
  if (intent === "describe") {
    const read = readForm(FORMS.describe, form);
    if ("fields" in read) return misread(intent, read.fields);
    const done = await runCommand(intent, () => describeFile(act, read.values));
    return "value" in done ? answered(intent) : done;
  }
  if (intent !== "remove") throw data(null, { status: 400 });
  const read = readForm(FORMS.remove, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand(intent, () => removeFile(act, read.values));
  return "value" in done ? answered(intent) : done;
});
