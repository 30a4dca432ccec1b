import type { FormAnswer } from "#app/form-answer.ts";
import type { editionPage } from "#server/editions/page.ts";
import type { correctedPiece } from "#server/editions/past.ts";

/** An edition as its page shows it. */
export type EditionData = NonNullable<Awaited<ReturnType<typeof editionPage>>>;
export type Corrected = Awaited<ReturnType<typeof correctedPiece>>;

/** What every part of an edition's page is given. */
export interface EditionProps {
  page: EditionData;
  answer: FormAnswer | null;
  formKey: string;
}
