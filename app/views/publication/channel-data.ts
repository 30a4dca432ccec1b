import type { Route } from "../../routes/+types/publication-channels.ts";

/** A channel and what its form offers, as its loader gives it. */
export type ChannelData = Route.ComponentProps["loaderData"];
