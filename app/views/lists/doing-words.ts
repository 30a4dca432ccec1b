import { sayInstant } from "#core/time/words.ts";
import { counted, list } from "#core/words/say.ts";
import type { BundlePage } from "#server/together/queries.ts";

type Doing = BundlePage["doing"];

const shift = (days: number) => `${counted(Math.abs(days), "working day")} ${days < 0 ? "earlier" : "later"}`;

/** What is done to many pieces, as the beginning of a sentence. @param name what a person or a section is called, by id */
export function sayDoing(doing: Doing, name: (id: string) => string, zone: string, now: number): string {
  switch (doing.do) {
    case "step":
      return `“${doing.name}”`;
    case "approve":
      return "Approve";
    case "return":
      return "Return to the writer";
    case "recall":
      return "Call back";
    case "due":
      return doing.at === null ? "No due date" : `Due ${sayInstant(doing.at, zone, now)}`;
    case "due-shift":
      return `Due ${shift(doing.days)}`;
    case "plan":
      return `Release ${sayInstant(doing.at, zone, now)}`;
    case "plan-shift":
      return `Release ${shift(doing.days)}`;
    case "urgency":
      return doing.urgency === "urgent" ? "Urgent" : "Urgent no more";
    case "hand":
      return `From ${name(doing.from)} to ${name(doing.to)}`;
    case "section":
      return `To ${name(doing.sectionId)}`;
    case "edition":
      return `Into ${name(doing.editionId)}`;
    case "point-out":
      return `Tell ${list(doing.people.map(name))} they are ready`;
    case "send":
      return `“${doing.step}”`;
    case "each":
      return "To each its own";
  }
}
