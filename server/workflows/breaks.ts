import { and, isNotNull, isNull } from "drizzle-orm";
import { check, type Finding } from "#core/workflow/check.ts";
import type { People } from "#core/workflow/people.ts";
import type { Queryable } from "../db/client.ts";
import { workflow } from "../db/schema/index.ts";
import { loadDocuments } from "./documents.ts";

/** A finding a workflow in use would have that it has not now. */
export interface Break {
  workflow: string;
  key: string;
  severity: Finding["severity"];
  sentence: string;
}

/** What the checker would find in the workflows in use, were the people other than they are. */
export async function whatBreaks(db: Queryable, now: People, then: People): Promise<Break[]> {
  const rows = await db
    .select({ key: workflow.key, name: workflow.name, revisionId: workflow.currentRevisionId })
    .from(workflow)
    .where(and(isNotNull(workflow.currentRevisionId), isNull(workflow.retiredAt)));
  const documents = await loadDocuments(
    db,
    rows.flatMap((row) => row.revisionId ?? []),
  );
  return rows.flatMap(({ key, name, revisionId }) => {
    const document = documents.get(revisionId ?? "");
    if (!document) return [];
    const known = new Set(check(document, now).map((finding) => finding.message));
    return check(document, then)
      .filter((finding) => !known.has(finding.message))
      .map(({ severity, message }) => ({ workflow: name, key, severity, sentence: message }));
  });
}
