import { data } from "react-router";
import { z } from "zod";
import { answered, guarded, notFound, readJson, requireViewer, runCommand } from "#app/request.ts";
import { patchSchema } from "#core/text/patch-format.ts";
import { holdText, letGoOfText, savePiece } from "#server/text/commands.ts";
import { presentText } from "#server/text/queries.ts";
import type { Route } from "./+types/piece-text.ts";

const shared = { pieceId: z.uuid(), window: z.uuid() };
const schema = z.discriminatedUnion("intent", [
  z.object({
    intent: z.literal("save"),
    ...shared,
    base: z.string().max(64),
    patch: patchSchema,
    name: z.string().max(120).optional(),
    /** Whether the window goes with it, and lets the text go. */
    leaves: z.boolean().default(false),
  }),
  z.object({ intent: z.literal("hold"), ...shared, takes: z.boolean() }),
  z.object({ intent: z.literal("let-go"), ...shared }),
]);

/** A piece's text as it is now, for a window that writes in it. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const text = await presentText(context.db, viewer, params.slug);
  if (!text) throw notFound();
  return text;
}

/** Where an editor holds a text, saves to, and lets go: JSON in; the new version or a refusal out. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const parsed = schema.safeParse(await readJson(request));
  if (!parsed.success) {
    const refusal = { code: "content", sentence: "The text did not arrive whole." };
    return data({ intent: "save", fields: {}, refusal }, { status: 400 });
  }
  const wanted = parsed.data;
  const act = context.act(viewer.id);
  if (wanted.intent === "save") {
    const done = await runCommand("save", () => savePiece(act, wanted));
    if (wanted.leaves) await letGoOfText(act, wanted);
    return "value" in done ? { ...answered("save"), saved: { ...done.value, at: context.now } } : done;
  }
  const done = await runCommand(wanted.intent, () =>
    wanted.intent === "hold" ? holdText(act, wanted) : letGoOfText(act, wanted),
  );
  return "value" in done ? answered(wanted.intent) : done;
});
