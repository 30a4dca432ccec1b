import type { versionsPage } from "#server/text/queries.ts";

/** The page of a piece's versions. */
export type VersionsPage = NonNullable<Awaited<ReturnType<typeof versionsPage>>>;
