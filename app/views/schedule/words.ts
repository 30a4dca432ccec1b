import type { Finding } from "#core/release/findings.ts";
import { sayDate, sayInstant } from "#core/time/words.ts";
import { capital, counted, list } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";

/** What words are put together from. */
export interface Saying {
  now: number;
  zone: string;
  /** What a kind or a section is called, by its id. */
  name(id: string): string;
  title(id: string): string;
  /** What a channel is called, by its key; null for the reader site, which need not be named. */
  channel(key: string): string | null;
  /** Where what is shown ends. */
  until: number;
}

/** How a mark stands, in a few words. */
export function sayStanding(mark: Mark, { now, zone }: Pick<Saying, "now" | "zone">): string {
  const { what, at, holds, expected, by, replaces, edition } = mark;
  if (holds.length > 0) return `${what === "held" ? "held" : "will be held"}: ${holds.join(" ")}`;
  if (edition && what !== "left") {
    const filled = edition.of === 0 ? "nothing in it yet" : `${edition.ready} of ${edition.of} ready`;
    const miss = expected === null ? "" : `; the last expected ${sayDate(expected, zone, now)}`;
    return `${mark.ready ? "signed off, " : ""}${filled}${miss}`;
  }
  if (what === "wished" && mark.ready)
    return at < now ? "ready; its date passed without a plan" : "ready, to be planned";
  if (what === "wished") return expected === null ? "not ready yet" : `expected ${sayDate(expected, zone, now)}`;
  if (what === "proposed") return `proposed by ${by}`;
  if (what === "ends") return "readers see it until then";
  if (what === "left") return edition ? `left, ${counted(edition.of, "piece")}` : "left";
  return replaces ? "in place of what readers see" : "planned";
}

const DAY = 86_400_000;
/** So many of what clashes are named. */
const NAMED = 3;

/** Something to look at, as a headline and what there is to say more. */
export function sayFinding(
  finding: Finding & { channel: string },
  { now, zone, name, title, until: end, channel }: Saying,
): { headline: string; more: string } {
  const where = channel(finding.channel);
  const through = where === null ? "" : ` through ${where}`;
  const day = sayDate(finding.from, zone, now);
  if (finding.code === "gap") {
    const { of, from, until } = finding;
    const what = `${of.of === "all" ? "Nothing leaves" : `Nothing of ${name(of.id)}`}${through}`;
    return {
      headline:
        until >= end
          ? `${what} after ${sayDate(from, zone, now)}`
          : `${what} between ${sayDate(from, zone, now)} and ${sayDate(until, zone, now)}`,
      more: `${Math.floor((until - from) / DAY)} days; ${of.days === 1 ? "one a day" : `one in ${counted(of.days, "day")}`} is wanted.`,
    };
  }
  const many = capital(counted(finding.ids.length, "piece"));
  const rest = finding.ids.length - NAMED;
  const titles = list([...finding.ids.slice(0, NAMED).map(title), ...(rest > 0 ? [`${rest} more`] : [])]);
  const headlines = {
    "too-many": `${many} leave${through} ${day}`,
    "same-subject": `${many} on one subject ${day}`,
    "too-close": `${many} of a kind close together, from ${sayInstant(finding.from, zone, now)}`,
  };
  return { headline: headlines[finding.code], more: titles };
}
