import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, readJson, requireViewer, runCommand } from "#app/request.ts";
import { saveCopy } from "#server/workflows/copies.ts";
import type { Route } from "./+types/studio-save.ts";

const schema = z.object({ document: z.unknown(), revision: z.int().min(0) });

/** Where the studio saves to: the working copy as JSON in, its new revision or a refusal out. */
export const action = guarded(async ({ context, request, params }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const parsed = schema.safeParse(await readJson(request));
  if (!parsed.success)
    return data(
      { intent: "save", fields: {}, refusal: { code: "content", sentence: "The change did not arrive whole." } },
      { status: 400 },
    );
  const save = { ...parsed.data, key: params.key };
  const done = await runCommand("save", () => saveCopy(context.act(viewer.id), save));
  return "value" in done ? { ...answered("save"), saved: { ...done.value, at: context.now } } : done;
});

export { formsOnly as loader } from "#app/request.ts";
