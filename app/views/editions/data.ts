import type { FormAnswer } from "#app/form-answer.ts";
import type { correctedPiece, editionPage } from "#server/editions/queries.ts";

/** An edition as its page shows it. */
export type EditionData = NonNullable<Awaited<ReturnType<typeof editionPage>>>;
export type Corrected = Awaited<ReturnType<typeof correctedPiece>>;

/** What every part of an edition's page is given. */
export interface EditionProps {
  page: EditionData;
  answer: FormAnswer | null;
  formKey: string;
}
