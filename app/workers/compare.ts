import { compareContents } from "#core/text/compare.ts";
import type { Content, Field } from "#core/text/fields.ts";

/** Compares two versions apart from the page, which stays quick meanwhile. */
self.onmessage = ({ data }: MessageEvent<{ fields: Field[]; before: Content; after: Content }>) => {
  self.postMessage(compareContents(data.fields, data.before, data.after));
};
