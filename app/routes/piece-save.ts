import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, notFound, requireViewer, runCommand } from "#app/request.ts";
import { savePiece } from "#server/pieces/commands.ts";
import type { Route } from "./+types/piece-save.ts";

const schema = z.object({ pieceId: z.uuid(), baseVersion: z.int().min(1), content: z.unknown() });

/** Where the editor saves to: JSON in, the new version's number or a refusal out. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const parsed = schema.safeParse(await request.json().catch(() => null));
  if (!parsed.success)
    return data(
      { intent: "save", fields: {}, refusal: { code: "content", sentence: "The text did not arrive whole." } },
      { status: 400 },
    );
  const done = await runCommand("save", () => savePiece(context.act(viewer.id), parsed.data));
  return "value" in done ? { ...answered("save"), saved: { ...done.value, at: context.now } } : done;
});

export const loader = () => {
  throw notFound();
};
