import { filesBelow } from "#core/text/html.ts";

/** Where the workshop fetches files: of any piece one may see. */
export const addressOf = filesBelow("");
