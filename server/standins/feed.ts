import { createHash } from "node:crypto";
import { writeXml } from "#core/words/xml.ts";

const DAY = 86_400_000;
/** So many days the service shows. */
const DAYS = 4;

const SAID = [
  "Fresh snow above 1900 m, blown into the gullies on the lee side. Danger level 3.",
  "The crust bears in the morning and gives way by noon. Danger level 2, rising with the sun.",
  "Wet slides on all slopes towards the south. Stay off the path below the Colle Rosso.",
  "A quiet day: old snow, well settled. Danger level 1.",
  "Wind from the north-west, new cornices on the ridge of Monte Sora. Danger level 3.",
] as const;

/** What the invented avalanche service says: a bulletin a day, as Atom, and what tells it from yesterday's. */
export function standInEntries(now: number, baseUrl: string): { atom: string; etag: string } {
  const today = Math.floor(now / DAY);
  const days = Array.from({ length: DAYS }, (_, i) => today - i);
  const text = (name: string, words: string) => ({ name, attributes: {}, children: [words] });
  const atom = writeXml({
    name: "feed",
    attributes: { xmlns: "http://www.w3.org/2005/Atom" },
    children: [
      text("title", "Avalanche service of the Valle Fontelba"),
      text("id", "urn:fontelba:avalanches"),
      text("updated", new Date(today * DAY).toISOString()),
      ...days.map((day) => {
        const date = new Date(day * DAY).toISOString();
        return {
          name: "entry",
          attributes: {},
          children: [
            text("id", `urn:fontelba:avalanches:${date.slice(0, 10)}`),
            text("title", `Snow and avalanches, ${date.slice(0, 10)}`),
            { name: "link", attributes: { href: `${baseUrl}/standins/feed.atom#${date.slice(0, 10)}` }, children: [] },
            text("updated", date),
            { name: "content", attributes: { type: "html" }, children: [`<p>${SAID[day % SAID.length]}</p>`] },
          ],
        };
      }),
    ],
  });
  return { atom, etag: `"${createHash("sha256").update(atom).digest("hex").slice(0, 16)}"` };
}
