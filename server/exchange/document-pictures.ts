import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import { fileUses } from "#core/text/files.ts";
import type { DocumentPictures } from "../apart/docx-out.ts";
import { GivenUp } from "../apart/turns.ts";
import { documentPicture } from "../files/store.ts";

/** So many pictures go into one file. */
const MOST = 200;

/**
 * The pictures some texts show, in the size of a document, each once.
 *
 * @param folder the one in which files are kept
 * @throws GivenUp where there are more than go into one file
 */
export async function picturesOf(
  folder: string,
  texts: readonly { fields: readonly Field[]; content: Content }[],
): Promise<DocumentPictures> {
  const uses = texts.flatMap(({ fields, content }) => fileUses(fields, content)).filter(({ as }) => as === "picture");
  const ids = new Set(uses.map(({ file }) => file));
  if (ids.size > MOST)
    throw new GivenUp(`There are more than ${MOST} pictures in it. Take it in a form that leaves them where they are.`);
  const found: DocumentPictures = new Map();
  for (const id of ids) {
    const picture = await documentPicture(folder, id);
    if (picture) found.set(id, picture);
  }
  return found;
}
