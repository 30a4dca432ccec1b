import { readFileSync } from "node:fs";
import { readPeople } from "../people/document.ts";
import type { Calendar } from "../time/calendar.ts";
import { check } from "../workflow/checking/check.ts";
import { identity, mends } from "../workflow/checking/mend.ts";
import { type Review, readShape, stateOf, type Workflow } from "../workflow/document.ts";
import { changeState, switchState } from "../workflow/editing/edit.ts";
import {
  begin,
  choices,
  decideAs,
  later,
  offers,
  type Rehearsal,
  type Stage,
  sayWho,
  seatOf,
  take,
  tick,
} from "./rehearse.ts";

const HOURS: [string, string][] = [
  ["09:00", "13:00"],
  ["14:00", "17:30"],
];
const calendar: Calendar = {
  timeZone: "Europe/Rome",
  week: { mon: HOURS, tue: HOURS, wed: HOURS, thu: HOURS, fri: HOURS },
  closed: [],
  special: [],
};
const NOW = Date.parse("2026-11-24T09:00Z");

const read = (key: string): Workflow => {
  const shape = readShape(JSON.parse(readFileSync(`demo/workflows/${key}.json`, "utf8")));
  if ("problems" in shape) throw new Error(JSON.stringify(shape.problems));
  return shape.workflow;
};
const team = readPeople({
  roles: [
    { key: "writer", name: "Writer", permissions: ["piece.create"] },
    { key: "checker", name: "Route checker", permissions: ["review.decide"] },
    { key: "copy-editor", name: "Copy editor", permissions: ["review.decide"] },
    { key: "chief", name: "Managing editor", permissions: ["piece.create", "workflow.edit"] },
    { key: "lead", name: "Section lead", permissions: [] },
    { key: "web", name: "Web", permissions: [] },
  ],
  people: [
    { key: "tobia", name: "Tobia", active: true, roles: ["writer"] },
    { key: "wim", name: "Wim", active: true, roles: ["checker"] },
    { key: "jorun", name: "Jorun", active: true, roles: ["checker", "writer"] },
    { key: "petra", name: "Petra", active: true, roles: ["copy-editor"] },
    {
      key: "ansel",
      name: "Ansel",
      active: true,
      roles: ["copy-editor"],
      standIn: "petra",
      away: [{ from: "2026-11-20", until: "2026-11-30" }],
    },
    { key: "lene", name: "Lene", active: true, roles: [] },
    { key: "ilda", name: "Ilda", active: true, roles: ["chief"] },
  ],
});
if ("problems" in team) throw new Error(JSON.stringify(team.problems));
const { people } = team;
const stage = (workflow: Workflow): Stage => ({ workflow, people, calendar });
const NOTHING = { note: "", publishAt: null, chosen: [] };

function went(result: ReturnType<typeof take>): Rehearsal {
  if (!result.ok) throw new Error(result.refusal.sentence);
  return result.value;
}

describe("a rehearsal", () => {
  const guide = stage(read("route-guide"));

  test("walks to the end as different people, with the dates of the calendar and those who would be told", () => {
    const begun = begin(guide, "tobia", NOW);
    expect(begun).toMatchObject({ state: "draft", dueAt: Date.parse("2026-12-01T16:30Z") });
    expect(take(guide, begun, "tobia", "send", NOTHING)).toMatchObject({ refusal: { code: "note-missing" } });
    const sent = went(take(guide, begun, "tobia", "send", { ...NOTHING, note: "Ready" }));
    expect(sent.passage.at(-1)).toMatchObject({ who: "tobia", state: "route-check", told: ["wim", "jorun"] });
    expect(seatOf(guide, sent, "petra")).toMatchObject({ refusal: { code: "no-seat", who: ["Wim", "Jorun"] } });
    const one = went(decideAs(guide, tick(sent), "wim", "approve", { ...NOTHING, note: "" }));
    expect(one.state).toBe("route-check");
    expect(seatOf(guide, one, "wim")).toMatchObject({ ok: true, value: { personId: "wim" } });
    const two = went(decideAs(guide, one, "jorun", "approve", { ...NOTHING, note: "" }));
    expect(two).toMatchObject({ state: "copy-edit", round: { seats: [{ personId: "petra" }] } });
    const three = went(decideAs(guide, two, "petra", "approve", { ...NOTHING, note: "" }));
    expect(decideAs(guide, three, "lene", "decline", { ...NOTHING, note: "" })).toMatchObject({
      refusal: { code: "note-missing" },
    });
    const ready = went(decideAs(guide, three, "lene", "approve", { ...NOTHING, note: "" }));
    expect(ready.state).toBe("ready");
    const [closed] = offers(guide, ready, "tobia").find((move) => move.transition.key === "release")?.refusals ?? [];
    expect(closed && sayWho(guide, closed)).toEqual(["Managing editor", "Web"]);
    expect(went(take(guide, ready, "ilda", "release", NOTHING)).state).toBe("live");
    expect(sent.state).toBe("route-check");
  });

  test("an author's own seat is void, and a return goes back with its note", () => {
    const byJorun = begin(guide, "jorun", NOW);
    expect(take(guide, byJorun, "jorun", "send", { ...NOTHING, note: "x" })).toMatchObject({
      refusal: { code: "stuck", sentence: expect.stringContaining("too few people are left") },
    });
    const review = { ...(stateOf(guide.workflow, "route-check").review as Review), count: 1 };
    const alone = { ...guide, workflow: changeState(guide.workflow, "route-check", { review }) };
    const sent = went(take(alone, byJorun, "jorun", "send", { ...NOTHING, note: "x" }));
    expect(seatOf(alone, sent, "jorun")).toMatchObject({
      refusal: { sentence: expect.stringContaining("does not count") },
    });
    const back = went(decideAs(alone, sent, "wim", "return", { ...NOTHING, note: "No" }));
    expect(back.passage.at(-1)).toMatchObject({ state: "draft", note: "No", step: "Returned: Needs work" });
  });

  test("a switched-off stop is passed by; an absent reviewer's stand-in sits for them", () => {
    const off = stage(switchState(read("route-guide"), "route-check", true));
    const sent = went(take(off, begin(off, "tobia", NOW), "tobia", "send", { ...NOTHING, note: "x" }));
    expect(sent.passage.at(-1)).toMatchObject({ state: "copy-edit", passedBy: ["route-check"] });
    const picking = read("bulletin-item");
    const review = picking.states.find((state) => state.review)?.review;
    const all = stage(
      changeState(picking, "copy-edit", { review: review && { ...review, seats: [{ person: "ansel" }] } }),
    );
    const away = went(take(all, begin(all, "tobia", NOW), "tobia", "send", NOTHING));
    expect(away.round?.seats).toMatchObject([{ personId: "petra", forPersonId: "ansel" }]);
  });

  test("where the sender picks, candidates are offered and a missing choice is refused", () => {
    const base = read("bulletin-item");
    const review = base.states.find((state) => state.review)?.review;
    const seats = [{ role: "copy-editor", pick: "sender" as const, number: 1 }];
    const picks = stage(changeState(base, "copy-edit", { review: review && { ...review, seats } }));
    const begun = begin(picks, "tobia", NOW);
    const move = offers(picks, begun, "tobia").find((one) => one.transition.key === "send");
    expect(move && choices(picks, begun, move).map((one) => one.key)).toEqual(["petra", "ansel"]);
    expect(take(picks, begun, "tobia", "send", NOTHING)).toMatchObject({ refusal: { code: "reviewer-missing" } });
    expect(went(take(picks, begun, "tobia", "send", { ...NOTHING, chosen: ["petra"] })).state).toBe("copy-edit");
  });
});

test("every mend that is offered makes its finding go away and lets no new error in", () => {
  const { cases }: { cases: { workflow: unknown; people: unknown }[] } = JSON.parse(
    readFileSync("core/workflow/checking/cases/workflow-findings.json", "utf8"),
  );
  const offered = cases.map((one) => {
    const [shape, staff] = [readShape(one.workflow), readPeople(one.people)];
    if ("problems" in shape || "problems" in staff) throw new Error("a case cannot be read");
    const found = check(shape.workflow, staff.people);
    return found.flatMap((finding) =>
      mends(shape.workflow, staff.people, finding).map((mend) => {
        const after = check(mend.workflow, staff.people);
        expect(after.map(identity)).not.toContain(identity(finding));
        return mend.label;
      }),
    );
  });
  expect(offered.map(([first]) => first ?? "")).toEqual([
    "",
    "Take Map desk out",
    "Add a step to Draft",
    "Add a step to Draft",
    "Open it to Managing editor",
    "",
    "",
    "Ask for one approval",
    "Ask for one approval",
    "",
    "",
    "",
    "",
    "Switch Route check on",
  ]);
});

test("time passes: whoever has not decided is reminded, and a late seat goes on to the stand-in", () => {
  const guide = read("route-guide");
  const check = stateOf(guide, "route-check");
  const review = {
    ...(check.review as Review),
    remind: ["1wd"],
    overdue: { after: "1wd", do: "stand-in" as const },
  };
  const workflow = changeState(guide, "route-check", { review });
  const covered = people.people.map((one) => (one.key === "wim" ? { ...one, standIn: "petra" } : one));
  const stage: Stage = { workflow, people: { ...people, people: covered }, calendar };
  const sent = take(stage, begin(stage, "tobia", NOW), "tobia", "send", {
    note: "Done.",
    publishAt: null,
    chosen: [],
  });
  if (!sent.ok) throw new Error(sent.refusal.sentence);
  const { dueAt } = sent.value;
  const steps = later(stage, sent.value, (dueAt ?? 0) + 7 * 86_400_000);
  expect(steps.map((one) => one.passage.at(-1)?.step)).toEqual(["Send for route check", "Reminder", "Late"]);
  expect(steps.at(-1)?.passage.at(-1)?.note).toContain("Petra sits for Wim now");
  expect(steps.at(-1)?.now).toBe((dueAt ?? 0) + 7 * 86_400_000);
  expect(later(stage, steps.at(-1) as Rehearsal, (dueAt ?? 0) + 30 * 86_400_000)).toHaveLength(1);
});
