import { z } from "zod";
import { piecePointedOut } from "#core/events/pieces.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { list } from "#core/words/say.ts";
import { loadHolders } from "../access/holders.ts";
import { note } from "../piece/input.ts";
import { openBare } from "../piece/open.ts";
import { mentionable } from "../remarks/mentions.ts";
import { type Act, write } from "../write.ts";

/** So many people are told at most. */
export const TOLD_MOST = 20;

export const pointOutInput = z.object({
  pieceId: z.uuid(),
  people: z.array(z.uuid()).min(1, "Who is told?").max(TOLD_MOST, `At most ${TOLD_MOST} people are told at once.`),
  note,
});

/** Tells people that a piece is ready for them; who may not see it is not let in by that, and nobody is told. */
export function pointOut(act: Act, wanted: z.output<typeof pointOutInput>): Promise<Result<null>> {
  return write(act, async (change) => {
    const opened = await openBare(change, wanted.pieceId);
    if (!opened.ok) return opened;
    const { facts, actor } = opened.value;
    if (actor.guest) return refuse({ code: "not-granted", sentence: "Guests tell nobody that a piece is ready." });
    const holders = await loadHolders(change.tx, wanted.people);
    const people = wanted.people.map((id) => holders.get(id)).filter((one) => one?.active && !one.guest);
    const named = people.filter((one) => one !== undefined);
    const seeing = mentionable(named, facts, change.now);
    const blind = named.filter((one) => !seeing.includes(one));
    if (blind.length > 0 || seeing.length === 0) {
      const sentence =
        blind.length > 0 ? `${list(blind.map((one) => one.name))} may not see it.` : "Nobody of them is here any more.";
      return refuse({ code: "blind", field: "people", sentence });
    }
    change.happened(
      piecePointedOut,
      { people: seeing.map((one) => one.name), note: wanted.note },
      { pieceId: facts.piece.id, tell: { told: seeing.map((one) => one.id) } },
    );
    return accept(null);
  });
}
