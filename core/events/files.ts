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
  words: true,
  payload: properties,
  says: ({ name }) => `brought the file “${name}”`,
});
export const fileDescribed = event("file.described", {
  words: true,
  payload: properties,
  says: ({ name }) => `described the file “${name}”`,
});
export const fileRemoved = event("file.removed", {
  words: true,
  payload: naming,
  says: ({ name }) => `took the file “${name}” out`,
});
export const fileReturned = event("file.returned", {
  words: true,
  payload: naming,
  says: ({ name }) => `put the file “${name}” back`,
});
