import { and, asc, eq, ne } from "drizzle-orm";
import { NOTHING_LOOKED_FOR } from "#core/release/findings.ts";
import { rhythmSchema } from "#core/release/rhythm.ts";
import { alwaysOpen } from "#core/release/window.ts";
import { edition, editionItem } from "#server/db/schema/index.ts";
import { fillEdition } from "#server/editions/commands.ts";
import { saveChannel } from "#server/release/channel-changes.ts";
import { loadChannel } from "#server/release/channels.ts";
import { accepted, type World } from "./world.ts";

/** A bulletin that gathers what is in the section of that name, on Thursdays at seven; the first is number 48. */
export async function bulletin(world: World, more: { people?: string[]; every?: "week" | null } = {}): Promise<void> {
  const { people = ["ilda", "lene"], every = "week" } = more;
  const rhythm = rhythmSchema.parse({ every: "week", days: ["thu"], at: "07:00", since: "2026-01-01" });
  accepted(
    await saveChannel(world.act("ilda"), {
      key: "",
      name: "Bulletin",
      windows: alwaysOpen("Europe/Rome"),
      lookout: NOTHING_LOOKED_FOR,
      people: people.map((key) => world.id(key)),
      nextNumber: 48,
      editions: {
        called: "Bulletin",
        rhythm: every && rhythm,
        parts: [
          { key: "lead", name: "Lead" },
          { key: "news", name: "News" },
        ],
        closes: "14wh",
        target: { unit: "words", number: 20 },
        takes: [{ kind: null, section: world.id("section bulletin"), part: "news" }],
      },
      revision: 0,
    }),
  );
}

/** The editions of the bulletin that were not dropped, by date. */
export const editionsOf = (world: World, channel = "bulletin") =>
  world.db
    .select()
    .from(edition)
    .where(and(eq(edition.channel, channel), ne(edition.status, "dropped")))
    .orderBy(asc(edition.at));

/** One edition of the bulletin, as it stands. */
export async function editionAt(world: World, number: number) {
  const found = (await editionsOf(world)).find((one) => one.number === number);
  if (!found) throw new Error(`there is no Bulletin ${number}`);
  return found;
}

/** The ids of what is in an edition, in order. */
export const inIt = async (world: World, number: number): Promise<string[]> =>
  (
    await world.db
      .select({ id: editionItem.pieceId })
      .from(editionItem)
      .where(eq(editionItem.editionId, (await editionAt(world, number)).id))
      .orderBy(asc(editionItem.position))
  ).map((one) => one.id);

/** Puts pieces into an edition. */
export const fill = async (world: World, number: number, pieces: string[], who = "ilda", more: object = {}) =>
  fillEdition(world.act(who), { editionId: (await editionAt(world, number)).id, pieces, ...more });

/** The channel's own revision, for who changes it. */
export const channelRevision = async (world: World) => (await loadChannel(world.db, "bulletin")).revision;
