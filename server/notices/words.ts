import { CATALOGUE, sayNotice } from "#core/events/catalogue.ts";
import { sayInstant } from "#core/time/words.ts";

/** A notice as its rows keep it: the event it is of, which part of it, and who did it. */
export interface KeptNotice {
  event: string | null;
  part: string;
  payload: unknown;
  params: Record<string, unknown> | null;
  actor: string | null;
  /** The piece's title; null where it is about none or one the reader may not see. */
  title: string | null;
  /** The words of a notice from before events were kept. */
  said: string | null;
}

/** Puts a notice in words for its reader, with what its things are called now. @param now for how a date is said */
export function wordsOf(
  kept: KeptNotice,
  zone: string,
  now: number,
): { headline: string; note: string; lines: string[] } {
  if (kept.said !== null || kept.event === null) {
    const [headline = "", ...note] = (kept.said ?? "").split("\n");
    return { headline, note: note.join("\n"), lines: [] };
  }
  return sayNotice(kept.event, kept.part, {
    payload: kept.payload ?? {},
    actor: kept.actor,
    title: kept.title ?? "a piece",
    params: kept.params ?? {},
    when: (at) => sayInstant(at, zone, now),
  });
}

/** The address a notice leads to. @param subject what its event was about, beside the piece */
export function leadOf(event: string | null, slug: string | null, subject: string | null): string {
  const leads = CATALOGUE.get(event ?? "")?.leads;
  if (slug !== null) return `/pieces/${slug}${leads === "remark" && subject ? `?remark=${subject}` : ""}`;
  return leads === "workflows" ? "/workflows" : "/me";
}
