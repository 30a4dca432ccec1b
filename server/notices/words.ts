import { CATALOGUE, sayNotice } from "#core/events/catalogue.ts";
import { aboutOf } from "#core/events/worded.ts";
import { pathName } from "#core/sections/tree.ts";
import { type FieldValues, fill, fillLine, READY_WORDING, type Worded, type Wording } from "#core/telling/wording.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Viewer } from "../viewer.ts";

/** A notice as its rows keep it: the event it is of, which part of it, and who did it. */
export interface KeptNotice {
  event: string | null;
  part: string;
  payload: unknown;
  params: Record<string, unknown> | null;
  actor: string | null;
  /** The piece's title, and its section; null where it is about none or one the reader may not see. */
  title: string | null;
  sectionId: string | null;
  /** The words of a notice from before events were kept. */
  said: string | null;
  /** The team's own words for it; null where they are the ready-made ones. */
  worded: Wording | null;
}

/** Whoever reads a notice. */
export type ReadBy = Pick<Viewer, "name" | "zone" | "now" | "places">;

/** What the fields of a notice hold for its reader. */
export function valuesOf(kept: KeptNotice, { name, zone, now, places }: ReadBy): FieldValues {
  const event = kept.event ?? "";
  const when = (at: number) => sayInstant(at, zone, now);
  const occasion = {
    payload: kept.payload ?? {},
    actor: kept.actor,
    title: kept.title ?? "a piece",
    params: kept.params ?? {},
    when,
  };
  const { headline, note, lines } = sayNotice(event, kept.part, occasion);
  const { standsInFor } = occasion.params;
  return {
    what: standsInFor ? `For ${standsInFor}: ${headline}` : headline,
    who: kept.actor ?? "Elenco",
    piece: occasion.title,
    section: kept.sectionId ? pathName(places, kept.sectionId) : "",
    ...aboutOf(occasion),
    note,
    more: lines.join("\n"),
    you: name,
    publication: places.name,
  };
}

/** A notice in words for its reader, with what its things are called now, and what somebody wrote with it. */
export function wordsOf(kept: KeptNotice, reader: ReadBy, place: Worded): Wording & { note: string } {
  if (kept.said !== null || kept.event === null) {
    const [headline = "", ...note] = (kept.said ?? "").split("\n");
    return { headline, body: note.join("\n"), note: "" };
  }
  const { headline, body } = kept.worded ?? READY_WORDING[place];
  const values = valuesOf(kept, reader);
  return { headline: fillLine(headline, values) || values.what, body: fill(body, values), note: values.note };
}

/** The address a notice leads to. @param of its subject is what its event was about, beside the piece */
export function leadOf({
  event,
  slug,
  subject,
  payload,
}: Pick<KeptNotice, "event" | "payload"> & { slug: string | null; subject: string | null }): string {
  const leads = CATALOGUE.get(event ?? "")?.leads;
  if (slug !== null && leads === "assistant") return `/pieces/${slug}/assistant`;
  if (slug !== null) return `/pieces/${slug}${leads === "remark" && subject ? `?remark=${subject}` : ""}`;
  const { channel, number } = (payload ?? {}) as { channel?: string; number?: number };
  if (leads === "edition" && channel && number) return `/editions/${channel}/${number}`;
  if (leads === "flow") return "/flow";
  if (leads === "rules") return "/publication/rules";
  if (leads === "intake") return subject ? `/intake?item=${subject}` : "/intake";
  return leads === "workflows" ? "/workflows" : "/me";
}
