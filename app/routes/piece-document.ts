import { notFound, requireViewer } from "#app/request.ts";
import { FORMATS } from "#server/exchange/files.ts";
import { takenAlong } from "#server/exchange/taking.ts";
import { versionShown } from "#server/reader/preview.ts";
import type { Route } from "./+types/piece-document.ts";

/** A piece as a file to take along. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const format = words.get("as") ?? "";
  const number = Number.parseInt(words.get("version") ?? "", 10);
  const shown = await versionShown(context.db, viewer, params.slug, number || null);
  if (!shown || !Object.hasOwn(FORMATS, format)) throw notFound();
  const { mediaType, write } = FORMATS[format as keyof typeof FORMATS];
  const body = await write(await takenAlong(context, shown));
  return new Response(typeof body === "string" ? body : new Uint8Array(body), {
    headers: {
      "Content-Type": mediaType,
      "Content-Disposition": `attachment; filename="${params.slug}.${format}"`,
      "Cache-Control": "no-store",
    },
  });
}
