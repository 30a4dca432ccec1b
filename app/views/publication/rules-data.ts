import type { Route } from "../../routes/+types/publication-rules.ts";

/** The rules as their page shows them. */
export type RulesData = Route.ComponentProps["loaderData"];
