import { and, isNotNull, isNull } from "drizzle-orm";
import type { People } from "#core/people/document.ts";
import { check, type Finding } from "#core/workflow/checking/check.ts";
import { undecidable } from "#core/workflow/checking/undecidable.ts";
import type { Queryable } from "../db/client.ts";
import { workflow } from "../db/schema/index.ts";
import { loadDocuments } from "../piece/documents.ts";

/** A finding a workflow in use would have that it has not now. */
export interface Break {
  workflow: string;
  key: string;
  severity: Finding["severity"];
  sentence: string;
}

/** What the workflows in use would lack, were the people other than they are: what the checker finds, and seats nobody may decide on. */
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
    const faults = (people: People): Pick<Break, "severity" | "sentence">[] => [
      ...check(document, people).map(({ severity, message }) => ({ severity, sentence: message })),
      ...undecidable(document, people).map((sentence) => ({ severity: "error" as const, sentence })),
    ];
    const known = new Set(faults(now).map((fault) => fault.sentence));
    return faults(then)
      .filter((fault) => !known.has(fault.sentence))
      .map((fault) => ({ workflow: name, key, ...fault }));
  });
}
