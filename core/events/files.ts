import { z } from "zod";
import { event } from "./event.ts";

const properties = z.object({
  file: z.string(),
  name: z.string(),
  description: z.string(),
  credit: z.string(),
  licence: z.string(),
});
const naming = z.object({ file: z.string(), name: z.string() });

export const fileAttached = event("file.attached", {
  payload: properties,
  says: ({ name }) => `brought the file “${name}”`,
});
export const fileDescribed = event("file.described", {
  payload: properties,
  says: ({ name }) => `described the file “${name}”`,
});
export const fileRemoved = event("file.removed", {
  payload: naming,
  says: ({ name }) => `took the file “${name}” out`,
});
export const fileReturned = event("file.returned", {
  payload: naming,
  says: ({ name }) => `put the file “${name}” back`,
});
