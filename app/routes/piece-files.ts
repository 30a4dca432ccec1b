import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { attachFile, describeFile, type Properties, removeFile } from "#server/files/commands.ts";
import type { Act } from "#server/write.ts";
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
/** What is sent here: its schema, and the command it leads to. */
const FORMS = {
  attach: {
    schema: z.object({ ...said, file: z.instanceof(File, { error: "Choose a file." }) }),
    run: async (act: Act, { file, ...values }: Properties & { pieceId: string; file: File }) =>
      attachFile(act, { ...values, bytes: Buffer.from(await file.arrayBuffer()) }),
  },
  describe: { schema: z.object({ ...said, fileId }), run: describeFile },
  remove: { schema: z.object({ pieceId: z.uuid(), fileId, removed: z.stringbool() }), run: removeFile },
};

/** Where files are brought to a piece, described, taken out and put back; a file that was brought is answered with its id. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const form = await request.formData();
  const intent = String(form.get("intent"));
  if (!Object.hasOwn(FORMS, intent)) throw data(null, { status: 400 });
  const { schema, run } = FORMS[intent as keyof typeof FORMS];
  const read = readForm(schema, form);
  if ("fields" in read) return misread(intent, read.fields);
  const done = await runCommand<{ id: string } | null>(intent, () => run(context.act(viewer.id), read.values as never));
  return "value" in done ? { ...answered(intent), file: done.value?.id } : done;
});

export { formsOnly as loader } from "#app/request.ts";
