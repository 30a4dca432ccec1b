import type { Held } from "#app/packed.ts";
import type { Route } from "../../routes/+types/pieces.ts";

/** What the page of all pieces is given. */
export type PiecesPage = Held<Route.ComponentProps["loaderData"]["packed"]>;
export type PieceListed = NonNullable<PiecesPage["list"]>["rows"][number];
export type ByStop = NonNullable<PiecesPage["queues"]>;
