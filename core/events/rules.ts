import { z } from "zod";
import { counted, list } from "../words/say.ts";
import { event } from "./event.ts";

export const ruleChanged = event("rule.changed", {
  payload: z.object({ key: z.string(), name: z.string(), on: z.boolean(), rule: z.unknown() }),
  says: ({ name, on }) => `said anew what the rule “${name}” does; it is ${on ? "on" : "off"}`,
  leads: "rules",
});

export const ruleSwitched = event("rule.switched", {
  payload: z.object({ key: z.string(), name: z.string(), on: z.boolean() }),
  says: ({ name, on }) => `switched the rule “${name}” ${on ? "on" : "off"}`,
  leads: "rules",
});

export const ruleDeleted = event("rule.deleted", {
  payload: z.object({ key: z.string(), name: z.string() }),
  says: ({ name }) => `did away with the rule “${name}”`,
  leads: "rules",
});

const did = z.array(z.object({ said: z.string(), refused: z.string().nullable() }));

/** What a standing rule did to a piece, and what it could not. */
export const ruleActed = event("rule.acted", {
  payload: z.object({ key: z.string(), name: z.string(), did }),
  says: ({ name, did }) => {
    const done = did.filter((one) => one.refused === null).map((one) => one.said);
    const not = did.length - done.length;
    const failed = not === 0 ? "" : `; ${counted(not, "thing")} could not be done`;
    return `acted by the rule “${name}”: ${done.length === 0 ? "nothing was done" : list(done)}${failed}`;
  },
  tells: {
    maker: {
      asks: "mending",
      says: ({ payload, title }) => `Your rule “${payload.name}” could not do all it says for “${title}”`,
      lines: ({ payload }) =>
        payload.did.flatMap(({ said, refused }) => (refused === null ? [] : [`${said}: ${refused}`])),
    },
  },
});

/** A rule tells people something of a piece, in the words of its maker. */
export const ruleTold = event("rule.told", {
  payload: z.object({ name: z.string(), text: z.string() }),
  says: ({ name, text }) => `told by the rule “${name}”: ${text}`,
  tells: { told: { asks: "look", says: ({ payload }) => payload.text } },
});

/** A rule tells people of something that came in, in the words of its maker. */
export const ruleToldOfComing = event("rule.told-of-coming", {
  payload: z.object({ name: z.string(), text: z.string() }),
  says: ({ name, text }) => `told by the rule “${name}”: ${text}`,
  tells: { told: { asks: "look", says: ({ payload }) => payload.text } },
  leads: "intake",
});

/** An outside service a rule calls took it not, however often it was asked. */
export const callFailed = event("call.failed", {
  payload: z.object({ name: z.string(), url: z.string(), answer: z.string() }),
  says: ({ name, url }) => `called ${url} for the rule “${name}” in vain`,
  tells: {
    maker: {
      asks: "mending",
      says: ({ payload, title }) => `Your rule “${payload.name}” called ${payload.url} for “${title}” in vain`,
      note: ({ payload }) => payload.answer,
    },
  },
});
