import type { Rule } from "#core/rules/document.ts";
import { ruleSchema } from "#core/rules/document.ts";
import { allHold, byEvent, type Facts, type Happened, isMeant } from "#core/rules/match.ts";
import type { Database } from "#server/db/client.ts";
import { tried } from "#server/rules/page.ts";
import type { Viewer } from "#server/viewer.ts";
import { medianTime, medianTimes, type Row } from "./measure.ts";

const RULES = 200;

/** 200 rules asked of one event, all of them waiting for it, beside reading their number of words once each. */
export async function matching(): Promise<Row> {
  const rules = Array.from(
    { length: RULES },
    (_, i): Rule =>
      ruleSchema.parse({
        key: `rule-${i}`,
        name: `Rule ${i}`,
        on: true,
        when: { event: "piece.arrived", section: `section-${i % 12}` },
        if: [
          { fact: "words", over: i },
          { field: "season", is: "winter" },
        ],
        then: [{ do: "due", in: "1wd" }],
      }),
  );
  const by = byEvent(rules);
  const happened: Happened = {
    event: "piece.arrived",
    state: "check",
    workflow: "item",
    sections: Array.from({ length: 12 }, (_, i) => `section-${i}`),
    kind: "item",
  };
  const facts: Facts = { urgency: "normal", words: 400, fields: { season: "winter" } };
  const asked = () => (by.get("piece.arrived") ?? []).filter((rule) => isMeant(rule, happened) && allHold(rule, facts));
  const bare = () => rules.filter((rule) => rule.if.length > 0);
  const [took = 0, beside = 0] = await medianTimes([asked, bare], 99);
  return {
    what: `${RULES} rules asked of an event`,
    measured: `${took.toFixed(3)} ms`,
    beside: `${beside.toFixed(3)} ms walking them`,
    ratio: took / beside,
    aim: "≤ 2 ms",
  };
}

/** What a rule would have done in the last 30 days, by a ledger of 200,000 entries, beside counting these entries. */
export async function trying(db: Database, viewer: Viewer, count: () => Promise<unknown>): Promise<Row> {
  const rule = ruleSchema.parse({
    key: "tried",
    name: "Tried",
    when: { event: "piece.changed" },
    if: [{ fact: "words", over: 10 }],
    then: [{ do: "due", in: "1wd" }],
  });
  const trial = await tried(db, viewer, rule);
  const took = await medianTime(() => tried(db, viewer, rule), 5);
  const bare = await medianTime(count, 5);
  return {
    what: `a rule tried on 30 days of the record, ${trial.count} times it would have acted${trial.cut ? ", cut" : ""}`,
    measured: `${took.toFixed(0)} ms`,
    beside: `${bare.toFixed(0)} ms counting these entries`,
    ratio: took / bare,
    aim: "≤ 2 s",
  };
}
