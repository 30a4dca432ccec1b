import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import type { DocumentPictures } from "../apart/docx-out.ts";
import { apart } from "../apart/pool.ts";
import { picturesOf } from "./document-pictures.ts";

/** The forms a piece is handed out in, with their media types. */
export const FORMS = {
  docx: "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
  md: "text/markdown; charset=utf-8",
  html: "text/html; charset=utf-8",
} as const;

/**
 * Writes a version to be taken along. Whoever asks has been shown it.
 *
 * @param house the folder in which files are kept, and the address at which they are found from outside
 * @param who who asks, by id
 * @throws GivenUp where it takes too long, or shows too much
 */
export async function takenAlong(
  house: { files: string; baseUrl: string },
  { fields, content }: { fields: readonly Field[]; content: Content },
  form: keyof typeof FORMS,
  who: string,
): Promise<string | Uint8Array> {
  const pictures: DocumentPictures = form === "docx" ? await picturesOf(house.files, [{ fields, content }]) : new Map();
  return apart("write", { form, taken: { fields, content, pictures, baseUrl: house.baseUrl } }, who);
}
