import * as assist from "./assist.ts";
import * as commissions from "./commissions.ts";
import * as editions from "./editions.ts";
import type { EventKind, Occasion, Telling } from "./event.ts";
import * as files from "./files.ts";
import * as flow from "./flow.ts";
import * as intake from "./intake.ts";
import * as people from "./people.ts";
import * as pieces from "./pieces.ts";
import * as places from "./places.ts";
import * as release from "./release.ts";
import * as remarks from "./remarks.ts";
import * as review from "./review.ts";
import * as rules from "./rules.ts";
import * as text from "./text.ts";
import * as workflows from "./workflows.ts";

const isKind = (one: unknown): one is EventKind<unknown> =>
  typeof one === "object" && one !== null && "name" in one && "tells" in one;

/** Every kind of event there is, by its name. */
export const CATALOGUE: ReadonlyMap<string, EventKind<unknown>> = new Map(
  [
    assist,
    commissions,
    editions,
    files,
    flow,
    intake,
    people,
    pieces,
    places,
    release,
    remarks,
    review,
    rules,
    text,
    workflows,
  ]
    .flatMap((room) => Object.values(room) as unknown[])
    .filter(isKind)
    .map((kind) => [kind.name, kind]),
);

/** The names of events that are something said of a piece. */
export const REMARKS: readonly string[] = [...CATALOGUE.values()].flatMap(({ name, remark }) => (remark ? [name] : []));

/**
 * What an entry of the ledger says, as the end of a sentence that begins with a name. Entries are
 * never rewritten: what was kept before an event's payload had all its parts is put in words as far
 * as it goes, and an event no longer known by its name.
 */
export function sayEvent(name: string, payload: unknown): string {
  return CATALOGUE.get(name)?.says(payload ?? {}) ?? name;
}

/** What a notice says: its headline, somebody's own words, and further lines for a mail. */
export function sayNotice(
  name: string,
  part: string,
  occasion: Occasion<unknown>,
): { headline: string; note: string; lines: string[] } {
  const telling: Telling<unknown> | undefined = CATALOGUE.get(name)?.tells[part];
  return {
    headline: telling?.says(occasion) ?? sayEvent(name, occasion.payload),
    note: telling?.note?.(occasion).trim() ?? "",
    lines: telling?.lines?.(occasion) ?? [],
  };
}
