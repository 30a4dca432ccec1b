import { z } from "zod";
import { TAKE } from "./due.ts";

/** A length of work, as it is written in a workflow, a form or a plan (see `TAKE`). */
export const takeSchema = z.string().regex(TAKE, "expected a length such as 3wd, 6wh, 2d or 5h");
