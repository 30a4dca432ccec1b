import { type HelpQuestion, helpFor } from "#core/flow/help.ts";
import { type LineQuestion, likelyOn, lineFlow } from "#core/flow/line.ts";
import { fileAt } from "#core/text/html.ts";
import { fromHtml, type PictureOf } from "#core/text/html-in.ts";
import { fromMarkdown } from "#core/text/markdown.ts";
import { readCalendarFile } from "../people/calendar-file.ts";
import { htmlOfDocx } from "./docx-in.ts";
import type { Gathered } from "./docx-out.ts";
import { EDITION_WRITERS } from "./edition-out.ts";
import { type Taken, WRITERS } from "./writing.ts";

/** A text somebody brought, and the files its pictures may be, by their ids. */
interface Source {
  text: string;
  known: ReadonlySet<string>;
}

const pictureAmong =
  (known: ReadonlySet<string>): PictureOf =>
  (source) => {
    const id = fileAt(source);
    return id && known.has(id) ? id : null;
  };

/** The HTML of a DOCX document. */
export const docxIn = (bytes: Uint8Array) => htmlOfDocx(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));

/** The draft in a page of HTML. */
export const htmlIn = ({ text, known }: Source) => fromHtml(text, pictureAmong(known));

/** The draft in a text of Markdown. */
export const markdownIn = ({ text, known }: Source) => fromMarkdown(text, pictureAmong(known));

/** A version in a form in which it is handed out. */
export const write = ({ form, taken }: { form: keyof typeof WRITERS; taken: Taken }): string | Promise<Uint8Array> =>
  WRITERS[form](taken);

/** An edition in a form in which it is handed over. */
export const editionOut = ({
  form,
  gathered,
}: {
  form: keyof typeof EDITION_WRITERS;
  gathered: Gathered;
}): string | Promise<Uint8Array> => EDITION_WRITERS[form](gathered);

/** What the flow of a line amounts to, and what is likely. */
export const flowOf = (question: LineQuestion) => lineFlow(question);

/** What would ease the stop of a line that holds the most. */
export const helpOf = (question: HelpQuestion) => helpFor(question);

/** What is likely of the pieces on a line. */
export const likelyOf = (question: LineQuestion) => likelyOn(question).likely;

/** The days that lie ahead in a calendar's file. */
export const calendarIn = ({ source, zone, now }: { source: string; zone: string; now: number }) =>
  readCalendarFile(source, zone, now);
