import { and, desc, eq, ne, sql } from "drizzle-orm";
import { can } from "#core/access/decide.ts";
import type { Queryable } from "../db/client.ts";
import { prepared } from "../db/prepared.ts";
import { channel, edition, editionItem } from "../db/schema/index.ts";
import type { PieceFacts } from "../piece/facts.ts";
import { editionName } from "../release/ahead.ts";
import { type Channel, seesTo } from "../release/channels.ts";
import { holdSentences, mayLetOut } from "../release/commands.ts";
import type { Plan } from "../release/plans.ts";
import type { Viewer } from "../viewer.ts";

/** So many editions a piece is shown to be in, the latest first. */
const SHOWN = 10;

const askEditions = prepared((db) =>
  db
    .select({
      channel: edition.channel,
      number: edition.number,
      at: edition.at,
      status: edition.status,
      releasedAt: edition.releasedAt,
      plan: channel.editions,
    })
    .from(editionItem)
    .innerJoin(edition, eq(edition.id, editionItem.editionId))
    .innerJoin(channel, eq(channel.key, edition.channel))
    .where(and(eq(editionItem.pieceId, sql.placeholder("id")), ne(edition.status, "dropped")))
    .orderBy(desc(edition.at))
    .limit(SHOWN)
    .prepare(),
);

/** The editions a piece the caller may see is or was in. */
export async function editionsWith(db: Queryable, id: string) {
  const rows = await askEditions(db, { id });
  return rows.map(({ plan, ...row }) => ({ ...row, name: plan ? editionName(plan, row.number) : String(row.number) }));
}

/** The channels a piece can leave through beside the reader site, with what is planned there for it. */
export function throughOf(
  facts: PieceFacts,
  viewer: Viewer,
  {
    channels,
    plans,
    shown,
    editions,
    name,
  }: {
    channels: readonly Channel[];
    plans: readonly Plan[];
    /** In which channels readers see it now. */
    shown: readonly { channel: string; endsAt: number | null }[];
    editions: Awaited<ReturnType<typeof editionsWith>>;
    name(personId: string | null): string | null | "" | undefined;
  },
) {
  const approved = facts.state.kind === "ready" || facts.state.kind === "live";
  const may = approved && can(viewer, "piece.schedule", facts.target, viewer.now).allowed;
  return {
    editions,
    /** Whether the viewer may put it into an edition of some channel now. */
    fills:
      facts.piece.inFlight !== false &&
      channels.some((one) => one.editions !== null && seesTo(viewer, one, viewer.places, viewer.now)),
    /** Whether the viewer may plan anything through another channel now. */
    open: may && channels.some((one) => one.editions === null),
    channels: channels
      .filter((one) => one.editions === null)
      .map((one) => {
        const plan = plans.find((planned) => planned.channel === one.key);
        const letsOut = approved && mayLetOut(facts, viewer, one, viewer.now);
        return {
          key: one.key,
          name: one.name,
          windows: one.windowed ? one.windows : null,
          usual: one.usual,
          letsOut,
          /** When what readers see there ends by itself; absent where they see nothing of it. */
          shown: shown.find((out) => out.channel === one.key),
          plan: plan
            ? {
                at: plan.at,
                wishedAt: plan.wishedAt,
                endsAt: plan.endsAt,
                status: plan.status,
                holds: holdSentences(plan.holds),
                by: name(plan.plannedBy),
                confirmable: plan.status === "proposed" && letsOut,
              }
            : null,
        };
      }),
  };
}
