import { CATALOGUE, sayEvent, sayNotice } from "./catalogue.ts";
import { aboutOf, NOTICES, SAMPLE_PARAMS, samplePayload, wordedFields } from "./worded.ts";

const AT = Date.parse("2026-11-26T16:30Z");

test("an event that is told of, as it might be, is one the catalogue takes, and is said whole", () => {
  for (const { event } of NOTICES) {
    const payload = CATALOGUE.get(event)?.payload.parse(samplePayload(event, AT));
    expect(sayEvent(event, payload)).not.toMatch(/undefined|\[object|NaN/);
  }
});

test("each notice as it might be is said whole, to one of whom it is told", () => {
  for (const { event, part } of NOTICES) {
    const payload = samplePayload(event, AT);
    const occasion = { payload, actor: "Ada", title: "Night trains", params: SAMPLE_PARAMS, when: () => "Thu 26 Nov" };
    const { headline, note, lines } = sayNotice(event, part, occasion);
    expect([event, part, `${headline} ${note} ${lines.join(" ")}`]).toEqual([
      event,
      part,
      expect.not.stringMatching(/undefined|\[object|NaN/),
    ]);
    expect(headline).not.toBe("");
  }
});

test.each<[string, string, string[], string[]]>([
  ["round.opened", "called", ["stop", "date", "note", "more", "piece"], []],
  ["piece.released", "author", ["piece", "section"], ["note", "more", "stop", "date"]],
  ["role.given", "holder", ["what", "who", "you", "publication"], ["piece", "section", "note"]],
  ["comment.made", "concerned", ["note", "piece"], ["date"]],
])("the words for %s to %s may be made of %j, not of %j", (event, part, has, not) => {
  const fields = wordedFields(event, part);
  expect(fields).toEqual(expect.arrayContaining(has));
  for (const field of not) expect(fields).not.toContain(field);
});

test("no notice has no fields, whatever name is asked for", () => {
  for (const [event, part] of [
    ["piece.released", "nobody"],
    ["nothing", "author"],
    ["toString", "author"],
  ] as const)
    expect(wordedFields(event, part)).toEqual([]);
});

test("what an event is about: its stop by name before by key, its due date before another", () => {
  const when = (at: number) => new Date(at).toISOString().slice(0, 10);
  expect(aboutOf({ payload: { state: "copy-edit", name: "Copy edit", dueAt: AT, at: 0 }, when })).toEqual({
    stop: "Copy edit",
    date: "2026-11-26",
  });
  expect(aboutOf({ payload: { state: "Check", dueAt: null }, when })).toEqual({ stop: "Check", date: "" });
  expect(aboutOf({ payload: null, when })).toEqual({ stop: "", date: "" });
});
