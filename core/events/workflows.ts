import { z } from "zod";
import { event } from "./event.ts";
import { REROUTED } from "./pieces.ts";

const key = z.object({ key: z.string() });
const leads = "workflows" as const;

export const workflowBegun = event("workflow.begun", {
  payload: z.object({ key: z.string(), from: z.string(), hash: z.string() }),
  says: () => "began the workflow",
});
export const workflowChanged = event("workflow.changed", {
  payload: z.object({ revision: z.number(), hash: z.string() }),
  says: () => "changed the working copy of",
});
export const workflowTakenOver = event("workflow.taken-over", {
  payload: z.object({ holder: z.string(), name: z.string().optional() }),
  says: () => "took over the working copy of",
  tells: {
    holder: {
      asks: "look",
      says: ({ payload, actor }) =>
        `${actor} took over the working copy of “${payload.name ?? "a workflow"}”; your changes are in it`,
    },
  },
  leads,
});
export const workflowDiscarded = event("workflow.discarded", {
  payload: z.object({ gone: z.boolean() }),
  says: () => "threw the working copy away of",
});
export const workflowAdopted = event("workflow.adopted", {
  payload: z.object({
    key: z.string(),
    revision: z.number(),
    hash: z.string(),
    acknowledged: z.array(z.string()),
    stayed: z.number(),
    moved: z.number(),
    behind: z.number(),
  }),
  says: () => "put in use the workflow",
  tells: { moved: REROUTED },
  leads,
});
export const workflowPlanned = event("workflow.planned", {
  payload: z.object({ key: z.string(), at: z.number(), hash: z.string(), acknowledged: z.array(z.string()) }),
  says: () => "planned to put in use the workflow",
});
export const workflowHeld = event("workflow.held", {
  payload: z.object({ key: z.string(), name: z.string().optional(), reason: z.string() }),
  says: ({ reason }) => `it was not put in use (${reason}):`,
  tells: {
    planner: {
      asks: "mending",
      says: ({ payload }) => `“${payload.name ?? payload.key}” was not put in use`,
      note: ({ payload }) => payload.reason,
    },
  },
  leads,
});
export const workflowWithdrawn = event("workflow.withdrawn", {
  payload: z.object({}),
  says: () => "took back the plan for the workflow",
});
export const workflowRetired = event("workflow.retired", {
  payload: z.object({ key: z.string(), places: z.array(z.object({ scope: z.string(), scopeId: z.string() })) }),
  says: () => "retired the workflow",
});
export const workflowRevived = event("workflow.revived", {
  payload: key,
  says: () => "let the workflow be chosen again:",
});
export const workflowDeleted = event("workflow.deleted", {
  payload: z.object({}),
  says: () => "did away with the workflow",
});
