import type { Content } from "#core/text/fields.ts";
import type { Manuscript } from "#core/text/manuscript.ts";
import { SENTENCES } from "./sentences.ts";

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
/** Seventeen, which shares no divisor with the places: no two walks of a year are called the same. */
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
  "The postman's stairs",
  "The water channel",
  "The hay sledge run",
  "The three passes",
  "The bell path",
  "The quarry steps",
  "The children's circle",
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
const OF_A_HUT = [
  "opening weeks and beds",
  "the way up and the way down",
  "what the winter room holds",
  "meals, beds and the key",
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
  "Ice on the quarry steps",
  "Blasting below Rocca Doro on weekdays",
  "Handrail loose at the Tre Fonti gorge",
  "Water not to be drunk at Larice",
  "Bull on the meadow of Alpe Mirta",
  "Tunnel lamp out on the water channel",
  "Cornice over the border ridge",
  "Lake ice does not hold",
  "Wayside cross down, path unmarked",
  "Hunting days in the Brenna woods",
  "Ladder taken away at Bivacco Sora",
  "Fog on the Colle Rosso: keep to the poles",
  "Landslip on the road to Pian Cerro",
  "Ticks on the lower larch walk",
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
  "Found: one left boot",
  "Choir sings at the chapel round",
  "New boots for the rescue dogs",
  "The ferry stops on Monday",
  "Jam from the hut garden",
  "Thanks to the bridge builders",
  "Who remembers the old ski lift?",
  "Membership cards are in the post",
  "A talk on swallows",
  "Ropes to give away",
  "The warden of Larice retires",
  "Bread oven lit again at Mirta",
  "Map sheet four is printed",
  "Wood for the winter rooms",
  "Young members learn to navigate",
  "The clock of the lower church",
];
/** Items that are ready for the bulletin: three for the next one, the rest for the one after, the last of them a date. */
export const FOR_THE_BULLETIN = [
  "Huts that open for the holidays",
  "A rope course on the lower ice",
  "Volunteers for the iron bridge",
  "A night with the stars at Prato Alto",
  "The bakery at Mirta closes early",
  "Skis change hands on Saturday",
  "Carols at the upper chapel",
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
  "Forty years of one bench",
  "The bridge that was built three times",
  "How a valley keeps its water",
  "The night the clock stopped",
  "Letters from the border ridge",
  "What the larches know",
  "A school above the clouds",
  "The bus driver's view",
  "Stones with two dates",
  "Who owns a path?",
];

/** A title for a kind: the nth of its year, like no other. */
export function title(kind: string, n: number): string {
  if (kind === "route-guide") {
    const from = PLACES[n % PLACES.length] as string;
    const to = PLACES[(n * 7 + 4) % PLACES.length] as string;
    return `${PATHS[n % PATHS.length]} from ${from} to ${from === to ? "Rocca Doro" : to}`;
  }
  if (kind === "hut-page")
    return `${HUTS[n % HUTS.length]}: ${OF_A_HUT[(n + Math.floor(n / HUTS.length)) % OF_A_HUT.length]}`;
  const list = kind === "safety-notice" ? HAPPENINGS : kind === "feature" ? FEATURES : ITEMS;
  const one = list[n];
  if (!one) throw new Error(`the year has more pieces of the kind ${kind} than titles: write some`);
  return one;
}

const REMARKS = [
  "The track says 418 metres to the larches. Fine as rounded?",
  "Does the visitors' book still exist? The hut page says it went to the museum.",
  "The signpost at the second cross was renewed in spring and now gives one hour forty.",
  "“Never narrower than a mule” is lovely, but say how wide it is.",
  "The footbridge is a season's bridge. When is it taken away?",
  "Two sentences in a row begin with “the path”. One of them can go.",
  "I walked it on Saturday: the cable is new and the ledge is fine.",
  "Please name the last bus back, people will ask.",
  "Is the lower lane still open to cars? Then say where one leaves them.",
  "The warden tells me the envelope was stolen twice. Perhaps leave that out.",
  "Which of the two chapels is meant? There is one on each bank.",
  "The standfirst promises a spring, and the text has none.",
  "Ninety steps: I counted eighty-six, twice.",
  "Good opening. The second paragraph could begin with its second sentence.",
  "We said “hut” everywhere else, here it is “refuge”.",
  "The meadow is fenced since August; the gate is fifty paces further up.",
  "Who says that? A name would help, or leave the quotation marks away.",
  "The picture shows the other bridge.",
  "Can we give the time for people with children too?",
  "“Recently” will be wrong by the time this appears.",
];

const RETURNS = [
  "The distance cannot be right: the track I have is almost two kilometres longer. Please measure again from the sawmill.",
  "Reads well. The closed branch must be said before the turn, not after it.",
  "Too long for the page by a paragraph; the history can go.",
  "The hut has changed its weeks. I have put the new ones into a comment.",
  "The descent is missing after the saddle. One cannot leave people up there.",
  "Grade and hazards do not agree: with that ledge it is no T2.",
  "The notice has no end. Until when, and who takes it away?",
  "Three names to check, marked in the comments; the rest is fine.",
  "The middle goes round in a circle. Start with the bridge and everything falls into place.",
  "The bus no longer stops at the sawmill. Access has to be written anew.",
];

const SENDINGS = [
  "First full draft. The second half is new to me, please look closely.",
  "Distances measured again from the sawmill.",
  "Shortened to fit, please check nothing important went.",
  "As agreed on Monday.",
  "Hazards rewritten after the storm.",
  "The warden has read it and is content.",
  "Two facts are from the old guide; I have marked them.",
  "Everything from last time is in, but for the second photograph.",
  "I left the quarrel about the name out; say if you miss it.",
  "New ending. The old one is in version 2 if it was better.",
  "Walked again on Thursday, in rain: the times are honest now.",
  "Short one. It should leave before the weekend.",
];

export const remarkWords = (random: Chance) => pick(REMARKS, random);
export const returnNote = (random: Chance) => pick(RETURNS, random);
export const sendNote = (random: Chance) => pick(SENDINGS, random);

const LENGTHS = ["Six hours", "Half a day", "A short evening", "A long day", "Three hours", "A morning and its coffee"];
const THROUGH = [
  "on the track that fed two valleys",
  "above the lake",
  "through larches and past three springs",
  "along the old border",
  "by the stairs the postman built",
  "under the ridge and back along the water",
];
const WITH = [
  "with one exposed ledge and a spring that never fails",
  "with a bridge to cross and a bell to hear",
  "with nothing on the way but a bench, and what one sees from it",
  "with ninety steps and a view for each",
  "for people who like to arrive",
];
const OF_A_STAY = [
  "A loft, a stove and a warden who knows the weather before it comes.",
  "Soup from eleven, beds until they are gone, and a terrace with one good corner.",
  "Open when its flag is up; the winter room always.",
  "Two hours from the bus and a long way from everything else.",
];
const OF_A_STORY = [
  "A walk with somebody who has never been lost, and is not proud of it.",
  "What is left of a trade, a road and three families.",
  "The valley has an answer to this. It has, in fact, four.",
  "On patience, paint and four hundred kilometres.",
  "Some things are only remembered because they were written on a beam.",
];
const HAZARDS = [
  "Exposed for forty paces at the ledge; cabled.",
  "Ice on the north side until May.",
  "The ford is deep after rain; the bridge is higher up.",
  "Stones come down in the gully before ten.",
  "None but the weather.",
];
const ACCESS = [
  "Bus to the sawmill, twice a day.",
  "On foot from the station in forty minutes.",
  "Car park at the lower church; full by nine in August.",
  "Ferry to the far bank, hourly until six.",
];

/**
 * A full text for a kind, within its limits.
 *
 * @param day the local date on which it is written
 */
export function content(kind: string, heading: string, day: string, random: Chance): Content {
  const text = (words: number) => manuscript(SENTENCES[kind] ?? [], words, random);
  const walk = () => `${pick(LENGTHS, random)} ${pick(THROUGH, random)}, ${pick(WITH, random)}.`;
  const fields: Record<string, () => Content["fields"]> = {
    "route-guide": () => ({
      standfirst: walk(),
      body: text(480 + random() * 380),
      distance: Number((6 + random() * 14).toFixed(1)),
      ascent: Math.round(20 + random() * 90) * 10,
      time: `${Math.round(2 + random() * 5)} h ${pick(["", "15", "30", "45"], random)}`.trim(),
      grade: pick(["T1", "T2", "T3", "T3", "T4"], random),
      season: pick(["June to October", "All year", "July to September", "December to March"], random),
      hazards: pick(HAZARDS, random),
      access: pick(ACCESS, random),
    }),
    "hut-page": () => ({
      standfirst: pick(OF_A_STAY, random),
      body: text(110),
      weeks: pick(["20 June to 4 October", "26 December to 6 April", "Weekends only"], random),
      beds: Math.round(8 + random() * 40),
    }),
    "safety-notice": () => ({ body: text(60), "valid-from": day }),
    "bulletin-item": () => ({ body: text(45) }),
    feature: () => ({ standfirst: pick(OF_A_STORY, random), body: text(1300) }),
  };
  return { title: heading, fields: fields[kind]?.() ?? {} };
}

/** Paragraphs of sentences in an order of their own; none comes again before all have been. */
function manuscript(from: readonly string[], words: number, random: Chance): Manuscript {
  const blocks: Manuscript[] = [];
  let bag: string[] = [];
  let written = 0;
  while (written < words) {
    const sentences: string[] = [];
    for (let i = 0; i < 4 && written < words; i++) {
      if (bag.length === 0) bag = [...from];
      const [drawn = ""] = bag.splice(Math.floor(random() * bag.length), 1);
      const sentence = drawn
        .replace("{m}", String(Math.round(20 + random() * 40) * 10))
        .replace("{p}", pick(PLACES, random));
      sentences.push(sentence);
      written += sentence.split(" ").length;
    }
    if (blocks.length === 3)
      blocks.push({
        type: "heading",
        attrs: { level: 2 },
        content: [{ type: "text", text: pick(HEADINGS, random) }],
      });
    blocks.push({ type: "paragraph", content: [{ type: "text", text: sentences.join(" ") }] });
  }
  return { type: "doc", content: blocks };
}

const HEADINGS = ["The way up", "From the saddle", "Going down", "If the weather turns", "What one sees", "Later"];
