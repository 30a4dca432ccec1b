import { can } from "#core/access/decide.ts";
import type { Refusal } from "#core/refusal.ts";
import { mentionsIn } from "#core/remarks/thread.ts";
import { list } from "#core/words/say.ts";
import { loadEverybody, type Person } from "../access/holders.ts";
import type { Piece } from "../piece/facts.ts";
import type { Opened } from "../piece/open.ts";
import type { Change } from "../write.ts";

/** Who of some people may see a piece now: whom its remarks can mention. */
export const mentionable = (people: Iterable<Person>, { target }: Pick<Piece, "target">, now: number): Person[] =>
  [...people].filter((one) => can(one, "piece.read", target, now).allowed);

/**
 * Whom somebody's words mention, by id. A mention lets nobody in: where a person is named who may not
 * see the piece, the words are refused. A guest knows nobody here, and so mentions nobody.
 *
 * @param people everybody, where they were read already
 */
export async function mentioned(
  change: Change,
  { facts, actor }: Opened<Piece>,
  body: string,
  people: () => Promise<Map<string, Person>> = () => loadEverybody(change.tx),
): Promise<{ ids: string[] } | { refusal: Refusal }> {
  if (actor.guest || !body.includes("@")) return { ids: [] };
  const everybody = [...(await people()).values()];
  const names = mentionsIn(
    body,
    everybody.map((one) => one.name),
  ).map((one) => one.name);
  const named = everybody.filter((one) => names.includes(one.name));
  const seeing = mentionable(named, facts, change.now);
  const blind = [...new Set(names)].filter((name) => !seeing.some((one) => one.name === name));
  if (blind.length === 0) return { ids: seeing.map((one) => one.id) };
  const sentence = `${list(blind)} may not see this piece, and a mention lets nobody in. Write the name without the @.`;
  return { refusal: { code: "may-not-see", field: "body", sentence } };
}
