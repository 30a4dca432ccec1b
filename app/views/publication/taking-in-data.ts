import type { Route } from "../../routes/+types/publication-intake.ts";

/** What the page of forms is given. */
export type TakingInData = Route.ComponentProps["loaderData"];
