import { compareContents } from "#core/text/compare.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import type { Names } from "#core/text/values.ts";

/** Compares two versions apart from the page, which stays quick meanwhile. */
self.onmessage = ({ data }: MessageEvent<{ fields: Field[]; before: Content; after: Content; names: Names }>) => {
  self.postMessage(compareContents(data.fields, data.before, data.after, data.names));
};
