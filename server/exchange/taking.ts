import type { Content, Field } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import { filesBelow } from "#core/text/html.ts";
import { documentPicture } from "../files/store.ts";
import type { DocumentPictures } from "./docx-out.ts";
import type { Taken } from "./files.ts";

/**
 * Gathers what a version needs to be taken along. Whoever asks has been shown it.
 *
 * @param house the folder in which files are kept, and the address at which they are found from outside
 */
export async function takenAlong(
  house: { files: string; baseUrl: string },
  { fields, content }: { fields: readonly Field[]; content: Content },
): Promise<Taken> {
  const pictures: DocumentPictures = new Map();
  for (const { file, as } of fileUses(fields, content)) {
    if (as !== "picture" || pictures.has(file)) continue;
    const picture = await documentPicture(house.files, file);
    if (picture) pictures.set(file, picture);
  }
  return { fields, content, pictures, addressOf: filesBelow(house.baseUrl) };
}
