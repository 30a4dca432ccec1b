import type { Block } from "#core/text/block.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import { plainOf } from "#core/text/points.ts";
import type { Place } from "#server/remarks/commands.ts";
import { type Chance, pick } from "./texts.ts";

/** What a reviewer says of certain words, and how they would put them. */
interface OnWords {
  words: string;
  kind?: "wording" | "fact" | "question" | "praise";
  body: string;
  instead?: string;
  /** What the writer answers. */
  reply?: string;
}

const ON_WORDS: readonly OnWords[] = [
  {
    words: "never narrower than a mule",
    kind: "praise",
    body: "Lovely. Keep it whatever the page says.",
    reply: "Gladly.",
  },
  {
    words: "in the first hour",
    kind: "fact",
    body: "My track says seventy minutes with a pack. Fine as rounded?",
    reply: "Rounded on purpose: the box has the exact time.",
  },
  {
    words: "keeps a visitors' book",
    kind: "question",
    body: "Does the book still exist? The hut page says it went to the museum.",
    reply: "There is a new one since May, I signed it.",
  },
  { words: "easily missed in fog", body: "", instead: "easily missed in fog, and worth looking for in any weather" },
  { words: "who is unsure", kind: "wording", body: "", instead: "anybody who is unsure" },
  {
    words: "if somebody is unsure",
    body: "One “somebody” fewer.",
    instead: "by whoever is unsure",
  },
  { words: "for a kilometre", kind: "fact", body: "Eight hundred metres on the new map." },
  {
    words: "count on two",
    body: "Say it to the reader.",
    instead: "allow two",
  },
  {
    words: "eleven wooden steps",
    kind: "fact",
    body: "Twelve since the spring, if one counts the stone.",
  },
  { words: "The lane back", kind: "wording", body: "Which lane? There are two by then." },
  { words: "takes the lane back", kind: "question", body: "Is it still open to cars? Then say so." },
  { words: "the gate", kind: "fact", body: "It moved fifty paces up with the new fence." },
  {
    words: "by the stepping stones",
    body: "Two were washed out in August.",
    instead: "by the stepping stones, two of which are new",
  },
  { words: "all at once, as if they had been told to", kind: "praise", body: "This is why I read you." },
  { words: "is boiled for tea in any case", body: "", instead: "is boiled in any case" },
  {
    words: "in sight of the road and out of its hearing",
    kind: "praise",
    body: "Nothing to add.",
  },
  { words: "a name and bring it back", kind: "wording", body: "The key, not the name: turn it round?" },
  { words: "six blankets", kind: "fact", body: "Five, says the warden. One went with the flood." },
  { words: "on weekdays there is always a corner", kind: "question", body: "In August too? I was sent on last year." },
  { words: "it adds forty minutes", body: "", instead: "this adds forty minutes" },
  { words: "until further notice", kind: "question", body: "Until when, roughly? People book beds on this." },
  {
    words: "mostly before ten in the morning",
    kind: "fact",
    body: "The valley office says before eleven.",
    instead: "mostly before eleven in the morning",
  },
  { words: "what looks firm behind it is not", kind: "praise", body: "Exactly as it should be said." },
];

/** What a reviewer finds to say of a text's own words: some of what fits, the same for the same chance. */
export function remarksOn(content: Content, random: Chance) {
  const found = Object.entries(content.fields).flatMap(([field, value]) => {
    if (!isManuscript(value)) return [];
    const text = plainOf(value);
    return ON_WORDS.flatMap((one) => {
      const start = text.toLowerCase().indexOf(one.words.toLowerCase());
      return start < 0 ? [] : [{ ...one, place: { field, range: { start, end: start + one.words.length } } as Place }];
    });
  });
  const wanted = Math.min(found.length, 1 + Math.floor(random() * 4));
  const chosen = new Set<(typeof found)[number]>();
  while (chosen.size < wanted) chosen.add(pick(found, random));
  return [...chosen].map(({ instead, ...rest }) => ({
    ...rest,
    wording: instead === undefined ? undefined : ([{ type: "text", text: instead }] as Block[]),
  }));
}
