import { can } from "#core/access/decide.ts";
import { type Result, refuse } from "#core/refusal.ts";
import { localDate } from "#core/time/local.ts";
import { type Opened, openPiece } from "../piece/open.ts";
import { loadTeam, sayPrincipals } from "../team/queries.ts";
import type { Change } from "../write.ts";

/** Opens a piece for somebody who may change its text, and what belongs to it, in its present state. */
export async function openText(change: Change, pieceId: string): Promise<Result<Opened>> {
  const opened = await openPiece(change, pieceId);
  if (!opened.ok) return opened;
  const { facts, actor, places } = opened.value;
  if (can(actor, "piece.edit", facts.target, change.now).allowed) return opened;
  if (facts.state.review?.signed)
    return refuse({
      code: "locked",
      sentence: `In ${facts.state.name} the text is being signed, and locked for everybody. One refusal opens it again.`,
    });
  const team = await loadTeam(change.tx, localDate(change.now, places.calendar.timeZone));
  const who = sayPrincipals(team, facts.state.editors, facts.target);
  return refuse({ code: "not-editor", sentence: `In ${facts.state.name} the text is not yours to change.`, who });
}
