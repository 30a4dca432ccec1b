import type { Route } from "../../routes/+types/flow.ts";

/** What the page of a line's flow is given. */
export type FlowData = Route.ComponentProps["loaderData"];
export type FlowPage = NonNullable<FlowData["page"]>;
/** A line's flow where it could be computed. */
export type Computed = Exclude<FlowPage["flow"], { problem: string }>;
export type Likely = Computed["likely"][number];

/** A page whose flow was computed. */
export type Known = Omit<FlowPage, "flow"> & { flow: Computed };
