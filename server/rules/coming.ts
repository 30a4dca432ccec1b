import { and, eq, inArray, ne } from "drizzle-orm";
import { ruleToldOfComing } from "#core/events/rules.ts";
import { peopleMeant } from "#core/people/principals.ts";
import { accept, type Result, refuse } from "#core/refusal.ts";
import { type Action, canDo, type Rule } from "#core/rules/document.ts";
import type { Seen } from "#core/rules/match.ts";
import { lineage } from "#core/sections/tree.ts";
import { countFields, total } from "#core/text/fields.ts";
import { countWords } from "#core/text/measure.ts";
import { localDate } from "#core/time/local.ts";
import type { Person } from "../access/holders.ts";
import type { Queryable } from "../db/client.ts";
import { intakeItem, kind } from "../db/schema/index.ts";
import { hasIntake, type Item, judges, targetOf } from "../intake/items.ts";
import { giveTo } from "../intake/triage.ts";
import { loadPlaces, type Places } from "../sections/places.ts";
import { asCandidates, loadTeam } from "../team/queries.ts";
import { type Act, write } from "../write.ts";

/** What came in as rules look at it, by its id. Ideas are nobody's to give, and left out like what is gone. */
export async function comingSeen(db: Queryable, ids: readonly string[], places: Places): Promise<Map<string, Seen>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ item: intakeItem, kind: kind.key })
    .from(intakeItem)
    .leftJoin(kind, eq(kind.id, intakeItem.kindId))
    .where(and(inArray(intakeItem.id, [...ids]), ne(intakeItem.sort, "idea")));
  return new Map(
    rows.map(({ item: { id, sectionId, content, words }, kind: key }) => [
      id,
      {
        place: {
          kind: key ?? "",
          workflow: "",
          sections: sectionId === null ? [] : lineage(places, sectionId).map((one) => one.key),
        },
        facts: {
          urgency: "normal",
          words: content ? total(countFields(content)) : countWords(words),
          fields: content?.fields ?? {},
        },
      },
    ]),
  );
}

/** What a rule is at when it does something to what came in. */
interface At {
  act: Act;
  rule: Pick<Rule, "name" | "when">;
  itemId: string;
}

const GONE = { code: "not-found", sentence: "It is not in the intake any more." };
const NOBODY = { code: "nobody", sentence: "Nobody who may judge it is meant by that." };

/** Does one thing a rule says to what came in, within what the rule's maker may do. */
export async function carryOutOnComing({ act, rule, itemId }: At, action: Action): Promise<Result<unknown>> {
  if (!canDo(rule.when.event, action.do))
    return refuse({ code: "no-piece", sentence: "There is no piece yet to do that to." });
  const [item] = await act.db.select().from(intakeItem).where(eq(intakeItem.id, itemId));
  if (!item) return refuse(GONE);
  if (action.do === "assign") {
    const [one] = await meant(act, item, [action.to]);
    return one ? giveTo(act, { itemId, revision: item.revision, personId: one.id }) : refuse(NOBODY);
  }
  if (action.do !== "notify") return accept(null);
  const places = await loadPlaces(act.db);
  const told = (await meant(act, item, action.to))
    .filter((one) => judges(one, item, places, act.now))
    .map(({ id }) => id);
  if (told.length === 0) return refuse(NOBODY);
  return write<null>(act, async (change) => {
    const text = action.text.replaceAll(/\{\{\s*piece\.title\s*\}\}/g, item.title);
    change.happened(ruleToldOfComing, { name: rule.name, text }, { subjectId: itemId, tell: { told } });
    return accept(null);
  });
}

/** Who is meant, of those who work here now. */
async function meant({ db, now }: Act, item: Item, to: readonly string[]): Promise<Person[]> {
  const places = await loadPlaces(db);
  const team = await loadTeam(db, localDate(now, places.calendar.timeZone));
  const people = asCandidates(team, targetOf(places, item), now);
  const assigneeIds = item.holderId === null ? [] : [item.holderId];
  const ids = peopleMeant(to, { authorId: item.byId, assigneeIds, people });
  return ids.flatMap((id) => team.people.get(id) ?? []).filter((one) => hasIntake(one, now));
}
