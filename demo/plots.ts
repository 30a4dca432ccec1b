import { arriveBy, due } from "#core/time/due.ts";
import type { DemoPicture } from "./pictures.ts";
import { calendar } from "./setting.ts";
import { type Chance, chance, FOR_THE_BULLETIN, pick, title } from "./texts.ts";

const DAY = 86_400_000;
const PIECES = 120;
const RECENT = 72;

/** What the stories play in. */
export interface Stage {
  now: number;
  baseUrl: string;
  files: string;
  pictures: readonly DemoPicture[];
  person(key: string): string;
  section(key: string): string;
  kind(key: string): string;
}

/** One piece of the year, before it is told. */
export interface Plot {
  kind: string;
  section: string;
  author: string;
  begins: number;
  /** How quick its people are: 1 takes exactly the time allowed. */
  pace: number;
  returns: number;
  random: Chance;
  title: string;
  /** What is special about it, if anything. */
  turn?: "held" | "revised" | "parked" | "ready";
}

/** What the year is made of. */
export function plots(stage: Stage): Plot[] {
  const random = chance(20261124);
  const counts = new Map<string, number>();
  const choices = [
    { kind: "route-guide", sections: ["high-routes", "family-walks", "winter"], weight: 42 },
    { kind: "hut-page", sections: ["huts"], weight: 16 },
    { kind: "safety-notice", sections: ["safety"], weight: 14 },
    { kind: "bulletin-item", sections: ["bulletin"], weight: 18 },
    { kind: "feature", sections: ["features", "columns"], weight: 10 },
  ];
  const bag = choices.flatMap((choice) => Array<(typeof choices)[number]>(choice.weight).fill(choice));
  return Array.from({ length: PIECES }, (_, i): Plot => {
    const choice = pick(bag, random);
    const n = counts.get(choice.kind) ?? 0;
    counts.set(choice.kind, n + 1);
    const span = choice.kind === "feature" ? 70 : choice.kind === "safety-notice" ? 3 : 24;
    const ago = i < PIECES - RECENT ? 30 + random() * 290 : random() * span;
    return {
      kind: choice.kind,
      section: pick(choice.sections, random),
      author: pick(["tobia", "noor", "mina"], random),
      begins: working(stage.now - ago * DAY),
      pace: 0.3 + random() * 1.15,
      returns: random() < 0.25 ? 1 + Math.floor(random() * 2) : 0,
      random: chance(i + 7),
      title: title(choice.kind, n),
      ...(i % 41 === 5 ? { turn: "revised" as const } : i === PIECES - 3 ? { turn: "parked" as const } : {}),
    };
  }).concat([
    {
      kind: "hut-page",
      section: "huts",
      author: "noor",
      begins: working(stage.now - 9 * DAY),
      pace: 0.3,
      returns: 0,
      random: chance(5),
      title: "Rifugio Larice: winter opening",
      turn: "held",
    },
    {
      kind: "route-guide",
      section: "winter",
      author: "tobia",
      begins: working(stage.now - 26 * DAY),
      pace: 0.5,
      returns: 2,
      random: chance(99),
      title: "Snowshoe loop at Prato Alto",
    },
    ...["The smugglers' stairs above Rocca Doro", "The upper balcony of Torre Vella"].map(
      (name, i): Plot => ({
        kind: "route-guide",
        section: "high-routes",
        author: "noor",
        begins: working(stage.now - (24 + i) * DAY),
        pace: 0.3,
        returns: 0,
        random: chance(131 + i),
        title: name,
        turn: "ready",
      }),
    ),
    ...FOR_THE_BULLETIN.map(
      (name, i): Plot => ({
        kind: "bulletin-item",
        section: "bulletin",
        author: i % 2 === 0 ? "noor" : "mina",
        begins: working(stage.now - (9 + (i % 3)) * DAY),
        pace: 0.4,
        returns: 0,
        random: chance(211 + i),
        title: name,
        turn: "ready",
      }),
    ),
  ]);
}

/** The first open moment at or after an instant. */
export const working = (at: number) => Math.max(at, arriveBy(calendar, due(calendar, at, "0.25wh"), "0.25wh"));
