import { z } from "zod";

/** Where messages go beside the list in the application. */
export const ROUTES = ["mail", "chat"] as const;
export type Route = (typeof ROUTES)[number];

/** What a message is about, in the order in which it hurts. */
export const TOPICS = ["decide", "mend", "work", "remarks", "look", "know", "week"] as const;
export type Topic = (typeof TOPICS)[number];

/** What of it a channel of many readers can hear of: what happens to pieces. */
export const PIECE_TOPICS = ["decide", "mend", "work", "remarks", "look", "know"] as const satisfies readonly Topic[];
export type PieceTopic = (typeof PIECE_TOPICS)[number];

export const TOPIC_WORDS: Record<Topic, { name: string; about: string }> = {
  decide: { name: "My decision is asked", about: "reviews, reminders, seats that come to me" },
  mend: { name: "Something is stuck, held or late", about: "that I may put right" },
  work: { name: "Work comes to me, or comes back", about: "pieces assigned to me, returned to me" },
  remarks: { name: "Remarks, mentions, opinions", about: "said to me, or on what is mine" },
  look: { name: "Something I have a part in changes", about: "dates, steps, who has it" },
  know: { name: "What became of it", about: "released, approved, settled" },
  week: { name: "A letter of the week", about: "what left, what waits, what is likely late, targets" },
};

/** When a message goes: by itself, with all others of the day, or never. */
export const HOWS = ["at-once", "digest", "never"] as const;
export type How = (typeof HOWS)[number];
export const HOW_WORDS: Record<How, string> = { "at-once": "at once", digest: "once a day", never: "never" };

const byTopic = z.partialRecord(z.enum(TOPICS), z.enum(HOWS));
export const CLOCK = /^([01]\d|2[0-3]):[0-5]\d$/;
const time = z.string().regex(CLOCK, "Write it as 08:00.");

/** How somebody wants to be told; what they say nothing of is as the publication has it. */
export const tellingSchema = z.object({
  mail: byTopic.default({}),
  chat: byTopic.default({}),
  /** When what is told once a day goes, local wall time. */
  digestAt: time.default("08:00"),
  /** Between these wall times nothing goes; past midnight where it ends before it begins. */
  quiet: z.object({ from: time, until: time }).nullable().default(null),
});
export type TellingChoices = z.output<typeof tellingSchema>;

/** How a publication tells where nobody chose: by mail at once, but for the letter of the week; to chat nothing. */
export const READY_CHOICES: TellingChoices = tellingSchema.parse({});

/** How somebody is told of a topic by a route. @param own what they chose; null for nothing */
export function howTold(topic: Topic, route: Route, own: TellingChoices | null, publication: TellingChoices): How {
  return (
    own?.[route][topic] ?? publication[route][topic] ?? (route === "mail" && topic !== "week" ? "at-once" : "never")
  );
}

/** What may not be switched off, and why; null where everything stands that has to. */
export function unreachable(own: TellingChoices, publication: TellingChoices): string | null {
  const reached = ROUTES.some((route) => howTold("decide", route, own, publication) !== "never");
  return reached
    ? null
    : "Others wait for your decisions: by mail or in chat, at once or once a day, you are told when one is asked.";
}
