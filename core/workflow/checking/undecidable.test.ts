import type { People } from "../../people/document.ts";
import type { SeatRule, Workflow } from "../document.ts";
import { STARTING_POINTS } from "../editing/starting-points.ts";
import { undecidable } from "./undecidable.ts";

const people: People = {
  roles: [
    { key: "checker", name: "Checker", permissions: ["review.decide"] },
    { key: "reader", name: "Reader", permissions: ["piece.read"] },
    { key: "empty", name: "Nobody’s", permissions: [] },
  ],
  people: [
    { key: "wim", name: "Wim", active: true, roles: ["checker", "reader"] },
    { key: "gus", name: "Gus", active: true, roles: ["reader"] },
    { key: "ida", name: "Ida", active: false, roles: ["checker"] },
  ],
};

function seating(...seats: SeatRule[]): Workflow {
  const model = STARTING_POINTS.find((one) => one.states.some((state) => state.review)) as Workflow;
  const states = model.states.map((state) =>
    state.review ? { ...state, name: "Check", review: { ...state.review, seats } } : state,
  );
  return { ...model, states };
}

test.each<[string, SeatRule[], string[]]>([
  ["a role that decides", [{ role: "checker", pick: "everyone" }], []],
  ["a role of which one decides through another", [{ role: "reader", pick: "everyone" }], []],
  ["a person who decides", [{ person: "wim" }], []],
  ["a person who does not", [{ person: "gus" }], ["Check: Gus may not decide in a review."]],
  ["both", [{ person: "wim" }, { person: "gus" }], ["Check: Gus may not decide in a review."]],
  ["a role nobody holds, which the checker tells of", [{ role: "empty", pick: "everyone" }], []],
  ["somebody who has left, which the checker tells of", [{ person: "ida" }], []],
])("seats nobody may decide on: %s", (_, seats, expected) => {
  expect(undecidable(seating(...seats), people)).toEqual(expected);
});

test("a role that loses the permission leaves its seats undecidable", () => {
  const without = { ...people, roles: people.roles.map((role) => ({ ...role, permissions: ["piece.read"] })) };
  expect(undecidable(seating({ role: "checker", pick: "everyone" }), without)).toEqual([
    "Check: who sits as Checker may not decide in a review.",
  ]);
});
