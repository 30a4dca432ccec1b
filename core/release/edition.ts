import { z } from "zod";
import { takeSchema } from "../time/take-format.ts";
import type { Hold } from "./preflight.ts";
import { rhythmSchema } from "./rhythm.ts";

const key = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, "expected a key of small letters, digits and hyphens");
const name = z.string().trim().min(1, "A part needs a name.").max(60, "At most 60 characters fit.");

/** How a channel gathers its editions. */
export const editionPlanSchema = z.strictObject({
  /** What one is called, before its number: *Bulletin 49*. */
  called: z.string().trim().min(1, "What is an edition called?").max(40, "At most 40 characters fit."),
  /** When they leave, made ahead of time; null where each is made by hand. */
  rhythm: rhythmSchema.nullable(),
  /** In the order in which they stand. */
  parts: z.array(z.strictObject({ key, name })).min(1, "An edition has one part at least.").max(12),
  /** So long before it leaves nothing enters any more without a reason. */
  closes: takeSchema.nullable(),
  /** How long one should be. */
  target: z.strictObject({ unit: z.enum(["words", "items"]), number: z.int().min(1).max(1_000_000) }).nullable(),
  /** What belongs into it: pieces of a kind, of a section with all below it, or both; and into which part. */
  takes: z
    .array(z.strictObject({ kind: z.string().max(36).nullable(), section: z.string().max(36).nullable(), part: key }))
    .max(30),
});
export type EditionPlan = z.infer<typeof editionPlanSchema>;
export type Part = EditionPlan["parts"][number];

/** A piece's place in an edition. */
export interface Place {
  pieceId: string;
  part: string;
}

/** The part a piece belongs into by the first rule that takes it; null where none does. @param of its section and all above it */
export const partFor = (
  { takes }: Pick<EditionPlan, "takes">,
  of: { kindId: string; sectionIds: readonly string[] },
): string | null =>
  takes.find(
    ({ kind, section }) =>
      (kind !== null || section !== null) &&
      (kind === null || kind === of.kindId) &&
      (section === null || of.sectionIds.includes(section)),
  )?.part ?? null;

/** Everything in the order of the parts; what stands in a part there is no more stands in the first. */
export function inParts<T extends Place>(items: readonly T[], parts: readonly Part[]): Map<string, T[]> {
  const known = new Map(parts.map((part) => [part.key, [] as T[]]));
  const [first] = known.values();
  for (const item of items) (known.get(item.part) ?? first)?.push(item);
  return known;
}

/**
 * The same pieces with one of them in another place.
 *
 * @param before the piece it is to stand before; null for the end of the part
 * @returns the pieces in order, part after part; unchanged where there is no such piece
 */
export function moved<T extends Place>(
  items: readonly T[],
  parts: readonly Part[],
  pieceId: string,
  part: string,
  before: string | null,
): T[] {
  const ordered = [...inParts(items, parts).values()].flat();
  const item = ordered.find((one) => one.pieceId === pieceId);
  if (!item || before === pieceId) return ordered;
  const rest = ordered.filter((one) => one !== item);
  const placed = { ...item, part };
  const groups = inParts(rest, parts);
  const group = groups.get(part);
  if (!group) return ordered;
  const at = before === null ? -1 : group.findIndex((one) => one.pieceId === before);
  group.splice(at < 0 ? group.length : at, 0, placed);
  return [...groups.values()].flat();
}

/** A piece of an edition as the checks look at it. */
export interface Checked extends Place {
  slug: string;
  words: number;
  /** What stands in the way of its leaving with the edition; none where it is ready. */
  holds: readonly Hold[];
  /** When it is expected to be ready, epoch milliseconds, where that is after the edition closes. */
  expected: number | null;
  /** The slugs of the pieces its text leads readers to. */
  links: readonly string[];
}

/** What an edition amounts to, looked at as a whole. */
export interface Checks {
  /** The ids of what is approved word for word and ready to leave, of what is not yet, and of what comes too late. */
  ready: string[];
  missing: string[];
  late: string[];
  /** What has something amiss with its files. */
  files: string[];
  /** What says the same twice, each pair once. */
  doubles: [string, string][];
  /** What leads readers to a piece that is not out, and does not leave with it. */
  dangling: { pieceId: string; slug: string }[];
  /** By the unit of its target: all of it, what is ready, and how much there should be; words where it has none. */
  length: { unit: "words" | "items"; all: number; ready: number; target: number | null };
}

/**
 * Looks an edition over as a whole.
 *
 * @param doubles pairs of pieces that say the same, see `core/text/alike`
 * @param live the slugs readers see already
 */
export function checkEdition(
  items: readonly Checked[],
  target: EditionPlan["target"],
  doubles: readonly [string, string][],
  live: ReadonlySet<string>,
): Checks {
  const ids = (some: readonly Checked[]) => some.map((one) => one.pieceId);
  const ready = items.filter((one) => one.holds.length === 0);
  const here = new Set(items.map((one) => one.slug));
  const unit = target?.unit ?? "words";
  const measure = (some: readonly Checked[]) =>
    unit === "items" ? some.length : some.reduce((sum, one) => sum + one.words, 0);
  return {
    ready: ids(ready),
    missing: ids(items.filter((one) => one.holds.length > 0)),
    late: ids(items.filter((one) => one.expected !== null)),
    files: ids(items.filter((one) => one.holds.some((hold) => hold.code === "files"))),
    doubles: [...doubles],
    dangling: items.flatMap(({ pieceId, links }) =>
      [...new Set(links)].filter((slug) => !here.has(slug) && !live.has(slug)).map((slug) => ({ pieceId, slug })),
    ),
    length: { unit, all: measure(items), ready: measure(ready), target: target?.number ?? null },
  };
}
