import { lineage } from "#core/sections/tree.ts";
import type { Topic } from "#core/telling/choices.ts";
import type { Transaction } from "../db/client.ts";
import { insertAll } from "../db/insert.ts";
import { newId } from "../db/schema/columns.ts";
import { chatChannel, chatLine } from "../db/schema/index.ts";
import type { Places } from "../sections/places.ts";
import { type Message, type Pieces, send } from "./routing.ts";

/** A telling of an event, whoever hears it. */
export interface Heard {
  pieceId: string | undefined;
  seq: number;
  part: string;
  topic: Topic;
}

/**
 * Lays for each channel of a section or a workflow what happened to its pieces, an event once. What is only its
 * writer's own yet, or only for some to see, is no channel's.
 */
export async function sayInChannels(
  tx: Transaction,
  { now }: { now: number },
  { places, pieces, heard }: { places: Places; pieces: Pieces; heard: readonly Heard[] },
): Promise<void> {
  if (heard.length === 0) return;
  const channels = await tx.select().from(chatChannel);
  const lines = channels.flatMap(({ id: channelId, scope, scopeId, topics }) => {
    const met = new Set<number>();
    const said = heard.filter(({ pieceId, seq, topic }) => {
      const of = pieces.get(pieceId ?? "");
      const within =
        of &&
        !of.private &&
        !of.restricted &&
        (scope === "workflow" ? of.workflowId === scopeId : isWithin(places, of, scopeId));
      return within && topics.some((one) => one === topic) && !met.has(seq) && met.add(seq);
    });
    return said.length > 0
      ? [
          {
            message: {
              id: newId(),
              route: "chat",
              recipient: "",
              channelId,
              status: "waiting",
              dueAt: now,
            } satisfies Message,
            said,
          },
        ]
      : [];
  });
  await send(
    tx,
    lines.map((one) => one.message),
  );
  await insertAll(
    tx,
    chatLine,
    lines.flatMap(({ message, said }) => said.map(({ seq, part }) => ({ messageId: message.id, seq, part }))),
  );
}

const isWithin = (places: Places, { sectionId }: { sectionId: string }, scopeId: string) =>
  lineage(places, sectionId).some((one) => one.id === scopeId);
