import { sayDoing } from "./doing-words.ts";

type Doing = Parameters<typeof sayDoing>[0];

const NOW = Date.UTC(2026, 10, 24, 9);
const AT = Date.UTC(2026, 11, 3, 16, 30);
const NAMES: Record<string, string> = {
  p1: "Petra Holmqvist",
  p2: "Ansel Brook",
  s1: "Routes / Winter",
  e1: "Bulletin 49",
};

test.each<[object, string]>([
  [{ do: "step", name: "Send for route check" }, "“Send for route check”"],
  [{ do: "approve" }, "Approve"],
  [{ do: "return" }, "Return to the writer"],
  [{ do: "recall" }, "Call back"],
  [{ do: "due", at: null }, "No due date"],
  [{ do: "due", at: AT }, "Due Thu 3 Dec, 17:30"],
  [{ do: "due-shift", days: -2 }, "Due 2 working days earlier"],
  [{ do: "due-shift", days: 1 }, "Due one working day later"],
  [{ do: "plan", at: AT }, "Release Thu 3 Dec, 17:30"],
  [{ do: "plan-shift", days: 5 }, "Release 5 working days later"],
  [{ do: "urgency", urgency: "urgent" }, "Urgent"],
  [{ do: "urgency", urgency: "normal" }, "Urgent no more"],
  [{ do: "hand", from: "p1", to: "p2" }, "From Petra Holmqvist to Ansel Brook"],
  [{ do: "section", sectionId: "s1" }, "To Routes / Winter"],
  [{ do: "edition", editionId: "e1" }, "Into Bulletin 49"],
  [{ do: "point-out", people: ["p1", "p2"] }, "Tell Petra Holmqvist and Ansel Brook they are ready"],
])("%j: %s", (doing, said) => {
  expect(sayDoing(doing as Doing, (id) => NAMES[id] ?? id, "Europe/Rome", NOW)).toBe(said);
});
