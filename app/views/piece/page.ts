import type { FieldProblem } from "#core/text/fields.ts";
import type { openEditions } from "#server/editions/queries.ts";
import type { Guest } from "#server/guests/queries.ts";
import type { broughtTo } from "#server/intake/queries.ts";
import type { originsOf } from "#server/pieces/origins.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { PlacePreview, placeChoices } from "#server/pieces/placing.ts";
import type { nextOnTurn } from "#server/pieces/turn.ts";
import type { LineChoice } from "#server/workflows/one-piece.ts";

/** The page of a piece, with what its forms need. */
export type PiecePage = PiecePageData & {
  /** What came in and became of it, or is said of it. */
  brought: Awaited<ReturnType<typeof broughtTo>>;
  /** What it was begun from, and what was begun from it. */
  origins: Awaited<ReturnType<typeof originsOf>>;
  formKey: string;
  /** What a file it was just begun from had that has no form here. */
  imported: string | null;
  /** What waits on the viewer beside it. */
  next: Awaited<ReturnType<typeof nextOnTurn>>;
  configure: boolean;
  lines: LineChoice[];
  /** Where it may belong and what that would change; null where that is not asked. */
  places: Awaited<ReturnType<typeof placeChoices>>;
  placed: PlacePreview | null;
  /** The guests the piece is open to; empty where the viewer may let nobody in. */
  guests: Guest[];
  /** What stands between the files the text shows and its readers. */
  fileProblems: FieldProblem[];
  /** The editions it could be put into; none where that is not asked. */
  openEditions: Awaited<ReturnType<typeof openEditions>>;
};
