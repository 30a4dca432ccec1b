import type { Route } from "../../routes/+types/piece-assistant.ts";

/** What the page of an assistant for a piece is given. */
export type AssistData = Route.ComponentProps["loaderData"];
