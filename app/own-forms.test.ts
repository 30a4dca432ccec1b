import { z } from "zod";
import type { Viewer } from "#server/viewer.ts";
import type { Act } from "#server/write.ts";
import { away } from "./away-form.ts";
import { form, formNamed, moment, named, someMoment } from "./forms.ts";
import { granting } from "./grant-form.ts";

const ROME = "Europe/Rome";
/** Nothing of these forms may be done: whoever reads it wrong would ask this for its database. */
const NOBODY = new Proxy({} as Act, {
  get(_, key) {
    throw new Error(`${String(key)} was asked for`);
  },
});
const VIEWER = { id: "ilda", now: Date.parse("2026-11-24T09:00Z"), calendar: { timeZone: ROME } } as Viewer;
const sent = (values: Record<string, string | File>) => {
  const data = new FormData();
  for (const [name, value] of Object.entries(values)) data.append(name, value);
  return data;
};
const fieldsOf = (answer: unknown) => (answer as { data: { fields: Record<string, string> } }).data.fields;

test.each<[string, string, Record<string, string | File>, Record<string, string>]>([
  ["days away without an end", "away", { from: "2026-12-01" }, { until: "This is no date." }],
  [
    "days away on no day",
    "away",
    { from: "2026-02-30", until: "soon" },
    { from: "This is no date.", until: "This is no date." },
  ],
  ["no calendar", "calendar", {}, { file: "Choose a file." }],
  ["an empty calendar", "calendar", { file: new File([], "a.ics") }, { file: "Choose a file." }],
  ["words for a calendar", "calendar", { file: "BEGIN:VCALENDAR" }, { file: "Choose a file." }],
  [
    "a calendar past all measure",
    "calendar",
    { file: new File([new Uint8Array(1_000_001)], "a.ics") },
    { file: "The file is larger than 1 MB." },
  ],
])("%s is said where it was typed, and nothing is done", async (_, intent, values, fields) => {
  expect(fieldsOf(await away(intent, sent(values), NOBODY, "noor", VIEWER))).toEqual(fields);
});

test.each(["", "nothing", "constructor", "__proto__", "toString", "give"])(
  "the forms of days away do not answer what is none of theirs: %j",
  async (intent) => {
    expect(await away(intent, sent({}), NOBODY, "noor", VIEWER)).toBeNull();
  },
);

test.each<[string, string, Record<string, string>, Record<string, string>]>([
  [
    "a role for days that are none",
    "give",
    { roleKey: "web", from: "soon", until: "2026-13-01" },
    { from: "This is no date.", until: "This is no date." },
  ],
  [
    "a role's end after no day",
    "end-grant",
    { grantId: "01a20000-0000-7000-8000-000000000001", when: "after" },
    { until: "Choose the last day." },
  ],
])("%s is said where it was typed, and nothing is done", async (_, intent, values, fields) => {
  expect(fieldsOf(await granting(intent, sent(values), NOBODY, VIEWER, { personId: "noor" } as never))).toEqual(fields);
});

test.each(["", "away", "constructor"])(
  "the forms of roles do not answer what is none of theirs: %j",
  async (intent) => {
    expect(await granting(intent, sent({}), NOBODY, VIEWER, { personId: "noor" } as never)).toBeNull();
  },
);

test.each<[string, string | null | undefined]>([
  ["", null],
  ["2026-11-26T17:30", "2026-11-26T16:30:00.000Z"],
  // In the gap of a clock change, and in its overlap.
  ["2026-03-29T02:30", "2026-03-29T01:30:00.000Z"],
  ["2026-10-25T02:30", "2026-10-25T00:30:00.000Z"],
  ["tomorrow", undefined],
  ["2026-11-31T10:00", undefined],
  // A day alone begins at its first minute.
  ["2026-11-26", "2026-11-25T23:00:00.000Z"],
])("the moment %j of a form, in Rome", (text, at) => {
  const read = moment(ROME).safeParse(text);
  expect(read.success ? read.data && new Date(read.data).toISOString() : undefined).toBe(at);
  if (!read.success) expect(read.error.issues.map((one) => one.message)).toEqual(["This is no date and time."]);
});

test("where a moment must be said it is asked for", () => {
  const read = someMoment(ROME).safeParse("");
  expect(read.error?.issues.map((one) => one.message)).toEqual(["Choose a date and a time."]);
  expect(someMoment("UTC").parse("2026-11-26T17:30")).toBe(Date.parse("2026-11-26T17:30Z"));
});

test("what is named from outside is found in a table by its own names alone", () => {
  const table = { keep: 1 };
  expect([named(table, "keep"), named(table, "constructor"), named(table, "")]).toEqual([1, undefined, undefined]);
  const refused = { init: { status: 400 } };
  for (const intent of ["constructor", "", "drop"])
    expect(() => formNamed({}, intent)).toThrow(expect.objectContaining(refused));
});

test("a form hands its command what was understood, and nothing where something was not", async () => {
  const heard: unknown[] = [];
  const page = form(z.object({ name: z.string().min(1, "A name.") }), async (_, values) => {
    heard.push(values);
    return values.name === "taken"
      ? { ok: false, refusal: { code: "taken", sentence: "There is one.", field: "name" } }
      : { ok: true, value: values.name };
  });
  expect(page.leaves).toBe(false);
  expect(await page.submit("add", sent({ name: "Winter" }), NOBODY)).toEqual({ value: "Winter" });
  expect(await page.submit("add", sent({ name: "" }), NOBODY)).toMatchObject({ data: { fields: { name: "A name." } } });
  expect(await page.submit("add", sent({ name: "taken" }), NOBODY)).toMatchObject({
    data: { intent: "add", refusal: { sentence: "There is one." } },
    init: { status: 422 },
  });
  expect(heard).toEqual([{ name: "Winter" }, { name: "taken" }]);
});
