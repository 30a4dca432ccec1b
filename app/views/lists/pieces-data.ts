import type { Route } from "../../routes/+types/pieces.ts";

/** What the page of all pieces is given. */
export type PiecesPage = Route.ComponentProps["loaderData"];
export type PieceListed = NonNullable<PiecesPage["list"]>["rows"][number];
export type ByStop = NonNullable<PiecesPage["queues"]>;
