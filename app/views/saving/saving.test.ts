import fc from "fast-check";
import { follow, type Happens, type Saving, sendsIn } from "./saving.ts";

type State = Saving<string>;
const refused = (code: string): State => ({ kind: "refused", refusal: { code, sentence: "No." } });
const STATES: Record<string, State> = {
  saved: { kind: "saved", at: 1 },
  waiting: { kind: "waiting" },
  saving: { kind: "saving", typed: false },
  "saving, typed": { kind: "saving", typed: true },
  kept: { kind: "kept", reason: "no connection" },
  refused: refused("content"),
  held: refused("held"),
  stale: refused("stale"),
  apart: { kind: "apart", between: "two texts" },
};
const EVENTS: Record<string, Happens<string>> = {
  typed: { kind: "typed" },
  touched: { kind: "touched" },
  sent: { kind: "sent" },
  "came home": { kind: "saved", at: 1 },
  merged: { kind: "merged" },
  chosen: { kind: "chosen" },
  lost: { kind: "kept", reason: "no connection" },
  "turned away": { kind: "refused", refusal: { code: "content", sentence: "No." } },
  "went apart": { kind: "apart", between: "two texts" },
};

test.each([
  ["saved", "typed", "waiting"],
  ["waiting", "typed", "waiting"],
  ["saving", "typed", "saving, typed"],
  ["kept", "typed", "waiting"],
  ["refused", "typed", "waiting"],
  ["held", "typed", "waiting"],
  ["stale", "typed", "stale"],
  ["apart", "typed", "apart"],
  ["saved", "touched", "waiting"],
  ["saving", "touched", "saving"],
  ["kept", "touched", "kept"],
  ["apart", "touched", "apart"],
  ["waiting", "sent", "saving"],
  ["kept", "sent", "saving"],
  ["saving", "came home", "saved"],
  ["saving, typed", "came home", "waiting"],
  ["saving", "merged", "waiting"],
  ["saving", "lost", "kept"],
  ["saving, typed", "lost", "kept"],
  ["saving", "turned away", "refused"],
  ["saving", "went apart", "apart"],
  ["apart", "chosen", "waiting"],
])("%s, then %s: %s", (before, event, after) => {
  expect(follow(STATES[before] as State, EVENTS[event] as Happens<string>)).toEqual(STATES[after]);
});

test.each([
  ["saved", null],
  ["waiting", 800],
  ["saving", null],
  ["kept", 5_000],
  ["held", 5_000],
  ["refused", null],
  ["stale", null],
  ["apart", null],
])("%s words are sent in %j", (state, wait) => expect(sendsIn(STATES[state] as State, 800)).toBe(wait));

test("whatever happens, words typed are never said to be saved before they were sent", () => {
  const events = fc.array(fc.constantFrom(...Object.values(EVENTS)), { maxLength: 30 });
  fc.assert(
    fc.property(events, (all) => {
      let state: State = { kind: "saved", at: null };
      let unsent = false;
      for (const event of all) {
        // What comes home was on its way.
        if (event.kind === "saved" && state.kind !== "saving") continue;
        state = follow(state, event);
        if (event.kind === "typed") unsent = true;
        if (event.kind === "sent") unsent = false;
        if (unsent) expect(state.kind).not.toBe("saved");
      }
    }),
  );
});
