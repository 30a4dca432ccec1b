import { z } from "zod";
import { form, formNamed, type PageForm } from "#app/forms.ts";
import { answered, guarded, requireViewer } from "#app/request.ts";
import {
  attachFile,
  attachInput,
  describeFile,
  describeInput,
  removeFile,
  removeInput,
} from "#server/files/commands.ts";
import type { Route } from "./+types/piece-files.ts";

const FORMS: Record<string, PageForm> = {
  attach: form(
    attachInput.extend({ file: z.instanceof(File, { error: "Choose a file." }) }),
    async (act, { file, ...said }) => attachFile(act, { ...said, bytes: Buffer.from(await file.arrayBuffer()) }),
  ),
  describe: form(describeInput, describeFile),
  remove: form(removeInput, removeFile),
};

/** Where files are brought to a piece, described, taken out and put back; a file that was brought is answered with its id. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const sent = await request.formData();
  const intent = String(sent.get("intent"));
  const done = await formNamed(FORMS, intent).submit(intent, sent, context.act(viewer.id));
  if (!("value" in done)) return done;
  const brought = z.object({ id: z.string() }).safeParse(done.value);
  return { ...answered(intent), file: brought.data?.id };
});

export { formsOnly as loader } from "#app/request.ts";
