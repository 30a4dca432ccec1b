import type { Content } from "#core/text/fields.ts";
import type { Manuscript } from "#core/text/manuscript.ts";

/** Chance that can be repeated: numbers from 0 to 1 from a seed (mulberry32). */
export function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

export type Chance = ReturnType<typeof chance>;

/** One of a list. */
export const pick = <T>(from: readonly T[], random: Chance): T => from[Math.floor(random() * from.length)] as T;

const PLACES = [
  "Fontelba",
  "Pian Cerro",
  "Casere",
  "Prato Alto",
  "Larice",
  "Monte Sora",
  "Val Brenna",
  "Tre Fonti",
  "Colle Rosso",
  "Ponte Scuro",
  "Alpe Mirta",
  "Passo Grigio",
  "Lago Nero",
  "Torre Vella",
  "Rocca Doro",
];
const PATHS = [
  "The old salt road",
  "The mule track",
  "The charcoal burners' way",
  "The shepherds' traverse",
  "The ledge path",
  "The larch walk",
  "The mill path",
  "The border ridge",
  "The chapel round",
  "The long balcony",
];
const HUTS = [
  "Rifugio Larice",
  "Rifugio Casere",
  "Bivacco Sora",
  "Rifugio Tre Fonti",
  "Malga Mirta",
  "Rifugio Passo Grigio",
  "Bivacco Torre Vella",
  "Malga Prato Alto",
];
const HAPPENINGS = [
  "Iron bridge closed on the Sora path",
  "Rockfall above Ponte Scuro",
  "Snow bridges on the Passo Grigio",
  "Hornets at the Casere spring",
  "Forest works near Alpe Mirta",
  "Cable missing on the ledge of Torre Vella",
  "Ford impassable in Val Brenna",
  "Storm damage above Casere",
  "Grazing dogs at Prato Alto",
  "Avalanche track crosses the winter road",
];
const ITEMS = [
  "Members' walk on Sunday",
  "New hut stamps",
  "Lift runs until eight",
  "Path work day in Val Brenna",
  "Lost: a red rucksack",
  "Evening on old maps",
  "The bus to Casere",
  "Winter room keys",
  "A bench for Tre Fonti",
  "The spring is dry",
  "Snowshoe evening",
  "First frost on the lake",
];
const FEATURES = [
  "Why the lower lake freezes first",
  "The woman who marked four hundred kilometres",
  "A winter with the hut wardens",
  "What the salt traders left behind",
  "Where the old glacier stood",
  "The last mule of Casere",
  "Reading a slope",
  "Names on no map",
];

/** A title for a kind; `n` keeps titles of one kind apart. */
export function title(kind: string, n: number, random: Chance): string {
  if (kind === "route-guide") {
    const from = PLACES[n % PLACES.length] as string;
    const to = PLACES[(n * 7 + 4) % PLACES.length] as string;
    return `${PATHS[n % PATHS.length]} from ${from} to ${from === to ? "Rocca Doro" : to}`;
  }
  if (kind === "hut-page")
    return `${HUTS[n % HUTS.length]}: ${pick(["opening weeks and beds", "the way up and the way down", "what the winter room holds", "meals, beds and the key"], random)}`;
  const list = kind === "safety-notice" ? HAPPENINGS : kind === "feature" ? FEATURES : ITEMS;
  const again = Math.floor(n / list.length);
  return `${list[n % list.length]}${again ? `, ${["once more", "a second look", "the follow-up"][again % 3]}` : ""}`;
}

const SENTENCES = [
  "Start behind the lower sawmill, where the paved lane ends at a wooden trough.",
  "The track climbs {m} metres in the first hour and gives no shade before the larches.",
  "At the second wayside cross the path divides; keep left.",
  "The right branch ends at the fallen bridge over the Sora, and the slope beyond it is loose.",
  "Twenty minutes later you reach the ledge that gave the road its name.",
  "It is forty paces long, cabled, and never narrower than a mule.",
  "The spring at {p} runs all year.",
  "Below it the old toll house keeps a visitors' book, and from its bench the whole upper valley lies open.",
  "Cross the stream by the stepping stones, or after rain by the footbridge two hundred metres higher up.",
  "In early summer snow lies in the gully until noon, and a stick is worth its weight.",
  "The meadow above {p} is grazed from June to September; close the gate.",
  "A cairn with a white stone marks the turn, easily missed in fog.",
  "From the saddle one sees {p} on one side and the lake on the other.",
  "The descent begins on slabs, dry by ten in the morning, and goes over to a soft forest path.",
  "Where the wall has fallen, the path goes round it on the valley side.",
  "The hut at {p} sells bread and cheese when its flag is up.",
  "Leave early between June and September: the afternoon belongs to the thunder.",
  "Children like the tunnel, which is short, dry and tall enough for everyone.",
  "The signpost says an hour and a half; count on two.",
  "The last bend opens on the church of {p}, whose clock has been four minutes fast since anyone remembers.",
  "Water is to be had at the trough and again at the upper barn, nowhere between.",
  "An old boundary stone carries two dates and the letters of a family that has long left the valley.",
  "The path keeps its height for a kilometre, through blueberries and past three ruined hay barns.",
  "In autumn the larches turn within a week, and the light under them is worth the whole climb.",
];

const REMARKS = [
  "The track says 418 metres to the larches. Fine as rounded?",
  "Does the visitors' book still exist? The hut page says it went to the museum.",
  "The signpost at the second cross was renewed in spring and now gives one hour forty.",
  "“Never narrower than a mule” is lovely, but say how wide it is.",
  "The footbridge is a season's bridge. When is it taken away?",
  "Two sentences in a row begin with “the path”. One of them can go.",
  "I walked it on Saturday: the cable is new and the ledge is fine.",
  "Please name the last bus back, people will ask.",
];

const RETURNS = [
  "The distance cannot be right: the track I have is almost two kilometres longer. Please measure again from the sawmill.",
  "Reads well. The closed branch must be said before the turn, not after it.",
  "Too long for the page by a paragraph; the history can go.",
  "The hut has changed its weeks. I have put the new ones into a comment.",
];

const SENDINGS = [
  "First full draft. The second half is new to me, please look closely.",
  "Distances measured again from the sawmill.",
  "Shortened to fit, please check nothing important went.",
  "As agreed on Monday.",
  "Hazards rewritten after the storm.",
];

export const remark = (random: Chance) => pick(REMARKS, random);
export const returnNote = (random: Chance) => pick(RETURNS, random);
export const sendNote = (random: Chance) => pick(SENDINGS, random);

/**
 * A full text for a kind, within its limits.
 *
 * @param day the local date on which it is written
 */
export function content(kind: string, heading: string, day: string, random: Chance): Content {
  const text = (words: number) => manuscript(words, random);
  const standfirst = `${pick(["Six hours", "Half a day", "A short evening", "A long day", "Three hours"], random)} ${pick(["on the track that fed two valleys", "above the lake", "through larches and past three springs", "along the old border"], random)}, with one exposed ledge and a spring that never fails.`;
  const fields: Record<string, Content["fields"]> = {
    "route-guide": {
      standfirst,
      body: text(480 + random() * 380),
      distance: Number((6 + random() * 14).toFixed(1)),
      ascent: Math.round(20 + random() * 90) * 10,
      time: `${Math.round(2 + random() * 5)} h ${pick(["", "15", "30", "45"], random)}`.trim(),
      grade: pick(["T1", "T2", "T3", "T3", "T4"], random),
      season: pick(["June to October", "All year", "July to September", "December to March"], random),
      hazards: "Exposed for forty paces at the ledge; cabled.",
      access: "Bus to the sawmill, twice a day.",
    },
    "hut-page": {
      standfirst,
      body: text(110),
      weeks: pick(["20 June to 4 October", "26 December to 6 April", "Weekends only"], random),
      beds: Math.round(8 + random() * 40),
    },
    "safety-notice": { body: text(60), "valid-from": day },
    "bulletin-item": { body: text(45) },
    feature: { standfirst, body: text(1300) },
  };
  return { title: heading, fields: fields[kind] ?? {} };
}

function manuscript(words: number, random: Chance): Manuscript {
  const blocks: Manuscript[] = [];
  let written = 0;
  while (written < words) {
    const sentences: string[] = [];
    for (let i = 0; i < 4 && written < words; i++) {
      const sentence = pick(SENTENCES, random)
        .replace("{m}", String(Math.round(20 + random() * 40) * 10))
        .replace("{p}", pick(PLACES, random));
      if (sentences.includes(sentence)) continue;
      sentences.push(sentence);
      written += sentence.split(" ").length;
    }
    if (blocks.length === 3)
      blocks.push({
        type: "heading",
        attrs: { level: 2 },
        content: [
          { type: "text", text: pick(["The way up", "From the saddle", "Going down", "If the weather turns"], random) },
        ],
      });
    blocks.push({ type: "paragraph", content: [{ type: "text", text: sentences.join(" ") }] });
  }
  return { type: "doc", content: blocks };
}
