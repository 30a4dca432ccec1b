import type { Told } from "#server/remarks/queries.ts";
import type { versionsPage } from "#server/text/queries.ts";

/** The page of a piece's versions, with the open remarks where the present text is one of the two compared. */
export type VersionsPage = NonNullable<Awaited<ReturnType<typeof versionsPage>>> & {
  threads: Told[];
};
