import { z } from "zod";
import { requestFormSchema } from "../intake/form.ts";
import { intakeSettingsSchema } from "../intake/ideas.ts";
import { SORTS } from "../intake/item.ts";
import { event, type Telling } from "./event.ts";

/** What every entry keeps of something that came in: what it is called. */
const item = { title: z.string() };
const leads = { leads: "intake" as const };
type Item = { title: string };

const told = <P extends Item>(says: (title: string) => string): Telling<P> => ({
  asks: "look",
  says: ({ payload }) => says(payload.title),
});

export const formSaved = event("form.saved", {
  payload: requestFormSchema.extend({ key: z.string(), on: z.boolean() }),
  says: ({ name, on }) => (on ? `keeps the form ${name}` : `closed the form ${name}`),
});
export const intakeAgreed = event("intake.agreed", {
  payload: intakeSettingsSchema,
  says: () => "changed what holds for all that comes in",
});

export const requestCame = event("request.came", {
  payload: z.object({ ...item, form: z.string(), from: z.string(), missing: z.array(z.string()) }),
  says: ({ title, form, from }) => `took in “${title}”, which ${from} asks for by the form ${form}`,
  tells: {
    judge: { asks: "work", says: ({ payload }) => `A request came in: “${payload.title}”, from ${payload.from}` },
    requester: {
      asks: "look",
      says: ({ payload }) => `We have your request “${payload.title}”`,
      lines: ({ payload }) =>
        payload.missing.length === 0
          ? []
          : ["Before we can begin, something is missing:", ...payload.missing.map((one) => `- ${one}`)],
    },
  },
  ...leads,
});
export const intakeAsked = event("intake.asked", {
  payload: z.object({ ...item, question: z.string() }),
  says: ({ title }) => `asked something back about “${title}”`,
  tells: {
    requester: {
      asks: "look",
      says: ({ payload }) => `We have a question about “${payload.title}”`,
      note: ({ payload }) => payload.question,
    },
  },
  ...leads,
});
export const intakeReplied = event("intake.replied", {
  payload: z.object({ ...item, from: z.string(), words: z.string() }),
  says: ({ title, from }) => `passed on what ${from} answered about “${title}”`,
  tells: {
    judge: {
      asks: "work",
      says: ({ payload }) => `${payload.from} answered about “${payload.title}”`,
      note: ({ payload }) => payload.words,
    },
  },
  ...leads,
});
export const requestAmended = event("request.amended", {
  payload: z.object({
    ...item,
    from: z.string(),
    changes: z.array(z.object({ name: z.string(), was: z.string(), is: z.string() })),
  }),
  says: ({ title, from }) => `took in what ${from} amended in “${title}”`,
  ...leads,
});
export const intakeWithdrawn = event("intake.withdrawn", {
  payload: z.object({ ...item, from: z.string() }),
  says: ({ title, from }) => `let ${from} take “${title}” back`,
  tells: { judge: { asks: "nothing", says: ({ payload }) => `${payload.from} took “${payload.title}” back` } },
  ...leads,
});

export const intakeTaken = event("intake.taken", {
  payload: z.object({ ...item, sort: z.enum(SORTS) }),
  says: ({ title }) => `took “${title}” up`,
  tells: {
    requester: told((title) => `We do it: “${title}”`),
    bringer: { asks: "nothing", says: ({ payload }) => `“${payload.title}” is taken up` },
  },
  ...leads,
});
export const intakeJoined = event("intake.joined", {
  payload: z.object({ ...item, sort: z.enum(SORTS) }),
  says: ({ title }) => `joined “${title}” to a piece there was`,
  tells: {
    requester: told((title) => `“${title}” goes into something we are writing already`),
    bringer: { asks: "nothing", says: ({ payload }) => `“${payload.title}” goes into a piece there was` },
  },
  ...leads,
});
export const intakeDeclined = event("intake.declined", {
  payload: z.object({ ...item, sort: z.enum(SORTS), reason: z.string() }),
  says: ({ title, sort }) => (sort === "idea" ? `set “${title}” aside` : `declined “${title}”`),
  tells: {
    requester: {
      asks: "look",
      says: ({ payload }) => `We cannot do “${payload.title}”`,
      note: ({ payload }) => payload.reason,
    },
    bringer: {
      asks: "look",
      says: ({ payload }) => `“${payload.title}” is set aside`,
      note: ({ payload }) => payload.reason,
    },
  },
  ...leads,
});
export const intakeReopened = event("intake.reopened", {
  payload: z.object(item),
  says: ({ title }) => `took “${title}” up again, after it was declined`,
  ...leads,
});
export const intakeGiven = event("intake.given", {
  payload: z.object({ ...item, person: z.string() }),
  says: ({ title, person }) => `gave “${title}” to ${person}`,
  tells: {
    holder: {
      asks: "work",
      says: ({ actor, payload }) => `${actor ?? "Elenco"} gives you “${payload.title}” to see to`,
    },
  },
  ...leads,
});
export const intakeAmended = event("intake.amended", {
  payload: z.object({ ...item, was: z.string() }),
  says: ({ title, was }) => (was === title ? `amended “${title}”` : `calls “${was}” “${title}”`),
  ...leads,
});

export const ideaNoted = event("idea.noted", {
  payload: z.object(item),
  says: ({ title }) => `had an idea: “${title}”`,
  ...leads,
});
export const ideaOutlined = event("idea.outlined", {
  payload: z.object(item),
  says: ({ title }) => `outlined the idea “${title}”`,
  ...leads,
});
export const ideaShortlisted = event("idea.shortlisted", {
  payload: z.object({ ...item, on: z.boolean() }),
  says: ({ title, on }) => (on ? `put “${title}” on the short list` : `took “${title}” off the short list`),
  ...leads,
});
export const ideaJudged = event("idea.judged", {
  payload: z.object({ ...item, answers: z.record(z.string(), z.string()), note: z.string() }),
  says: ({ title }) => `judged the idea “${title}”`,
  ...leads,
});

export const reportCame = event("report.came", {
  payload: z.object({ ...item, words: z.string(), quote: z.string() }),
  says: ({ title }) => `took in what a reader says of “${title}”`,
  tells: {
    judge: {
      asks: "work",
      says: ({ payload }) => `A reader says something of “${payload.title}”`,
      note: ({ payload }) => payload.words,
    },
  },
  ...leads,
});
export const reportAnswered = event("report.answered", {
  payload: z.object({ ...item, words: z.string() }),
  says: ({ title }) => `answered a reader about “${title}”`,
  tells: {
    requester: {
      asks: "look",
      says: ({ payload }) => `About what you said of “${payload.title}”`,
      note: ({ payload }) => payload.words,
    },
  },
  ...leads,
});
export const reportThanked = event("report.thanked", {
  payload: z.object(item),
  says: ({ title }) => `thanked a reader: “${title}” is corrected`,
  tells: { requester: told((title) => `“${title}” is corrected, thanks to you`) },
  ...leads,
});

export const feedNamed = event("feed.named", {
  payload: z.object({ name: z.string(), url: z.string() }),
  says: ({ name, url }) => `has the feed ${name} looked at (${url})`,
});
export const feedDropped = event("feed.dropped", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `has the feed ${name} looked at no more`,
});
export const materialCame = event("material.came", {
  payload: z.object({
    ...item,
    feed: z.string(),
    count: z.number(),
    /** What came, by id. */
    items: z.array(z.string()).optional(),
  }),
  says: ({ title, feed, count }) =>
    count === 1 ? `took in “${title}” from ${feed}` : `took in ${count} things from ${feed}`,
  tells: {
    judge: {
      asks: "look",
      says: ({ payload }) =>
        payload.count === 1
          ? `${payload.feed} brings “${payload.title}”`
          : `${payload.feed} brings ${payload.count} things, “${payload.title}” first`,
    },
  },
  ...leads,
});
export const mailCame = event("mail.came", {
  payload: z.object({ ...item, sender: z.string() }),
  says: ({ title, sender }) => `took in the mail “${title}”, said to be from ${sender}`,
  tells: {
    judge: {
      asks: "look",
      says: ({ payload }) => `A mail came in: “${payload.title}”, said to be from ${payload.sender}`,
    },
  },
  ...leads,
});
