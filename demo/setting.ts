import { readFileSync } from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { READY_ROLES, type ReadyRole } from "#core/access/permissions.ts";
import type { Field } from "#core/text/field.ts";
import type { Calendar } from "#core/time/calendar.ts";

/** Fontelba Trails, an invented publication: its calendar, sections, kinds and people. */
export const calendar: Calendar = {
  timeZone: "Europe/Rome",
  week: Object.fromEntries(
    ["mon", "tue", "wed", "thu", "fri"].map((day) => [
      day,
      [
        ["09:00", "13:00"],
        ["14:00", "17:30"],
      ],
    ]),
  ) as Calendar["week"],
  closed: [
    "2026-01-01",
    "2026-01-06",
    "2026-04-06",
    "2026-06-02",
    "2026-08-15",
    "2026-12-08",
    "2026-12-25",
    "2027-01-01",
    "2027-01-06",
    "2027-03-29",
  ],
  special: [],
};

export const DEMO_PASSWORD = "over-the-pass";

interface DemoSection {
  key: string;
  name: string;
  workflow?: string;
  below?: DemoSection[];
}

export const sections: DemoSection[] = [
  {
    key: "routes",
    name: "Routes",
    workflow: "route-guide",
    below: [
      { key: "high-routes", name: "High routes" },
      { key: "family-walks", name: "Family walks" },
      { key: "winter", name: "Winter" },
    ],
  },
  { key: "huts", name: "Huts", workflow: "hut-page" },
  { key: "safety", name: "Safety", workflow: "safety-notice" },
  { key: "bulletin", name: "Bulletin", workflow: "bulletin-item" },
  {
    key: "magazine",
    name: "Magazine",
    workflow: "magazine-feature",
    below: [
      { key: "features", name: "Features" },
      { key: "columns", name: "Columns" },
    ],
  },
];

const line = (key: string, name: string, more: Partial<Field> = {}): Field => ({
  key,
  name,
  type: "line",
  required: false,
  ...more,
});
const body = (name: string, guidance: string, limits: Partial<Field>): Field => ({
  key: "body",
  name,
  type: "manuscript",
  guidance,
  required: true,
  ...limits,
});
const standfirst = line("standfirst", "Standfirst", {
  guidance: "What the walk is, in one breath.",
  required: true,
  maxWords: 40,
});

const picture: Field = {
  key: "picture",
  name: "Picture",
  type: "image",
  guidance: "What one sees on the way; lists and feeds show it too.",
  required: false,
};

export const kinds: { key: string; name: string; fields: Field[] }[] = [
  {
    key: "route-guide",
    name: "Route guide",
    fields: [
      standfirst,
      picture,
      body("Route description", "From the start to the end, as one walks it.", { minWords: 400, maxWords: 1200 }),
      { key: "distance", name: "Distance", type: "number", unit: "km", least: 0.5, most: 80, required: true },
      { key: "ascent", name: "Ascent", type: "number", unit: "m", least: 0, most: 4000, required: true },
      line("time", "Time", { required: true }),
      { key: "grade", name: "Grade", type: "choice", options: ["T1", "T2", "T3", "T4", "T5"], required: true },
      line("season", "Season", { required: true }),
      line("hazards", "Hazards"),
      line("access", "Access"),
      { key: "hut", name: "Hut on the way", type: "piece", required: false },
      { key: "track", name: "Track", type: "file", guidance: "As GPX, for readers", required: false },
    ],
  },
  {
    key: "hut-page",
    name: "Hut page",
    fields: [
      standfirst,
      picture,
      body("The hut", "Beds, meals, ways up.", { minWords: 60, maxWords: 500 }),
      line("weeks", "Opening weeks", { required: true }),
      { key: "beds", name: "Beds", type: "number", least: 1, most: 400, required: true },
    ],
  },
  {
    key: "safety-notice",
    name: "Safety notice",
    fields: [
      body("Notice", "What is closed, since when, which way round.", { maxWords: 150 }),
      { key: "valid-from", name: "Valid from", type: "date", required: true },
      { key: "valid-until", name: "Valid until", type: "date", required: false },
    ],
  },
  { key: "bulletin-item", name: "Bulletin item", fields: [body("Item", "A few lines for members.", { maxWords: 90 })] },
  {
    key: "feature",
    name: "Feature",
    fields: [standfirst, picture, body("Text", "A long read.", { minWords: 1200, maxWords: 2500 })],
  },
];

/** The ready-made roles, and those this team made of its own. */
export const roles: readonly ReadyRole[] = [
  ...READY_ROLES,
  { key: "safety-desk", name: "Safety desk", permissions: ["piece.release"] },
  { key: "safety", name: "Safety officer", permissions: ["piece.read", "piece.comment", "review.decide"] },
];

/** People who hold a role together. */
export const groups = [
  { key: "winter-desk", name: "Winter desk", members: ["tobia", "mina"], holds: "picture-desk@winter" },
];

interface DemoPerson {
  key: string;
  name: string;
  /** Roles as `role` for the publication or `role@section`. */
  holds: string[];
  standIn?: string;
  /** A role held for some weeks: from and until, in days from the demo's beginning. */
  soon?: { holds: string; from: number; until: number };
}

export const people: DemoPerson[] = [
  { key: "ilda", name: "Ilda Marenzi", holds: ["chief"] },
  { key: "sefa", name: "Sefa Okonro", holds: ["lead@routes"] },
  { key: "dario", name: "Dario Lunt", holds: ["lead@magazine"] },
  { key: "tobia", name: "Tobia Rensk", holds: ["writer"] },
  { key: "noor", name: "Noor Castellan", holds: ["writer"] },
  { key: "mina", name: "Mina Tauberg", holds: ["writer"] },
  { key: "wim", name: "Wim Aldera", holds: ["checker"] },
  { key: "jorun", name: "Jorun Faas", holds: ["checker"] },
  { key: "petra", name: "Petra Holmqvist", holds: ["copy-editor"] },
  { key: "ansel", name: "Ansel Brio", holds: ["copy-editor"], standIn: "petra" },
  { key: "lene", name: "Lene Quist", holds: ["safety", "safety-desk@safety"] },
  { key: "gus", name: "Gus Ferrante", holds: ["picture-desk"] },
  { key: "kai", name: "Kai Wendt", holds: ["web"], soon: { holds: "lead@bulletin", from: 7, until: 38 } },
];

/** A workflow of the demo as its file says it. */
export function workflowSource(key: string): string {
  return readFileSync(path.join(path.dirname(fileURLToPath(import.meta.url)), "workflows", `${key}.json`), "utf8");
}

export const workflows = [
  "route-guide",
  "safety-notice",
  "bulletin-item",
  "hut-page",
  "magazine-feature",
  "straight-out",
];
