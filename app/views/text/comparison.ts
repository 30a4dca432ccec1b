import { useEffect, useState } from "react";
import type { FieldComparison } from "#core/text/compare.ts";
import type { Field } from "#core/text/field.ts";
import type { Content } from "#core/text/fields.ts";
import type { Names } from "#core/text/values.ts";

/** Compares two contents in a worker; null while it is at it. */
export function useComparison(
  fields: readonly Field[],
  before: Content,
  after: Content,
  names: Names,
): FieldComparison[] | null {
  const [compared, setCompared] = useState<FieldComparison[] | null>(null);
  useEffect(() => {
    setCompared(null);
    const worker = new Worker(new URL("../../workers/compare.ts", import.meta.url), { type: "module" });
    worker.onmessage = ({ data }: MessageEvent<FieldComparison[]>) => setCompared(data);
    worker.postMessage({ fields, before, after, names });
    return () => worker.terminate();
  }, [fields, before, after, names]);
  return compared;
}
