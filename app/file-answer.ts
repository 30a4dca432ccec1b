import { create as contentDisposition } from "content-disposition";
import { isPicture } from "#core/text/files.ts";
import { orProblem } from "#server/apart/turns.ts";
import type { PieceFile } from "#server/files/queries.ts";
import { nameGivenOut } from "#server/files/sniff.ts";
import { readKept, sizedPicture } from "#server/files/store.ts";
import { plainPage } from "#server/http/plain-page.ts";
import { notFound } from "./request.ts";

/**
 * What was written to be taken along, as an answer to save; or a page that says why it was given up.
 *
 * @param name what it is called, with its ending
 */
export async function writtenAnswer(
  written: Promise<string | Uint8Array | ReadableStream>,
  { type, name, requestId }: { type: string; name: string; requestId: string },
): Promise<Response> {
  const body = await orProblem(written);
  if (typeof body === "object" && "problem" in body)
    return new Response(plainPage("It was not written", body.problem, requestId), {
      status: 503,
      headers: { "Content-Type": "text/html; charset=utf-8" },
    });
  return new Response(body instanceof Uint8Array ? new Uint8Array(body) : body, {
    headers: { "Content-Type": type, "Content-Disposition": `attachment; filename="${name}"` },
  });
}

/** Wide enough for any column, where no width is asked for. */
const READERS_WIDTH = 1_600;

/**
 * A kept file as an answer: pictures to look at, all else to save. Nothing in it runs, and what it
 * is was settled when it was brought.
 *
 * @param original whether a picture is given as it was brought where no width is asked for; readers never get that
 * @throws a 404 response when there is no such file, or its bytes are not there
 */
export async function fileAnswer(
  folder: string,
  file: Pick<PieceFile, "id" | "name" | "mediaType" | "width" | "height"> | null,
  request: Request,
  { original }: { original: boolean },
): Promise<Response> {
  if (!file) throw notFound();
  const width = Number(new URL(request.url).searchParams.get("width")) || null;
  const sized = isPicture(file) && !(original && width === null);
  const bytes = sized ? await sizedPicture(folder, file.id, width ?? READERS_WIDTH) : await readKept(folder, file.id);
  if (!bytes) throw notFound();
  return new Response(new Uint8Array(bytes), {
    headers: {
      "Content-Type": sized ? "image/webp" : file.mediaType,
      "Content-Length": String(bytes.length),
      "Content-Disposition": contentDisposition(nameGivenOut(file), {
        type: isPicture(file) ? "inline" : "attachment",
      }),
      "Content-Security-Policy": "sandbox; default-src 'none'",
    },
  });
}
