import { howTold, READY_CHOICES, tellingSchema, unreachable } from "./choices.ts";
import { leavesAt } from "./leaving.ts";

const ROME = "Europe/Rome";
const at = (text: string) => Date.parse(text);
const quiet = { from: "20:00", until: "07:00" };

test.each<[string, "at-once" | "digest", object, string, string]>([
  ["at once", "at-once", {}, "2026-11-24T10:00+01:00", "2026-11-24T10:00+01:00"],
  [
    "in the evening of quiet hours: in the morning",
    "at-once",
    { quiet },
    "2026-11-24T21:00+01:00",
    "2026-11-25T07:00+01:00",
  ],
  [
    "in the night of quiet hours: the same morning",
    "at-once",
    { quiet },
    "2026-11-25T02:00+01:00",
    "2026-11-25T07:00+01:00",
  ],
  ["at the end of quiet hours: at once", "at-once", { quiet }, "2026-11-25T07:00+01:00", "2026-11-25T07:00+01:00"],
  [
    "quiet at noon",
    "at-once",
    { quiet: { from: "12:00", until: "13:00" } },
    "2026-11-25T12:30+01:00",
    "2026-11-25T13:00+01:00",
  ],
  ["with the day's, before its hour", "digest", {}, "2026-11-24T07:00+01:00", "2026-11-24T08:00+01:00"],
  ["with the day's, after its hour", "digest", {}, "2026-11-24T08:00+01:00", "2026-11-25T08:00+01:00"],
  [
    "with the day's, at an hour a clock change skips",
    "digest",
    { digestAt: "02:30" },
    "2026-03-28T12:00+01:00",
    "2026-03-29T03:30+02:00",
  ],
  [
    "quiet until an hour a clock change skips",
    "at-once",
    { quiet: { from: "20:00", until: "02:30" } },
    "2026-03-28T22:00+01:00",
    "2026-03-29T03:30+02:00",
  ],
])("a message goes %s", (_, how, choices, now, expected) => {
  const reading = { choices: tellingSchema.parse(choices), zone: ROME, away: [] };
  expect(new Date(leavesAt(how, reading, at(now))).toISOString()).toBe(new Date(at(expected)).toISOString());
});

test("who is away is told on the first day back, however many absences follow one another", () => {
  const away = [
    { from: "2026-11-23", until: "2026-11-27" },
    { from: "2026-11-28", until: "2026-11-29" },
  ];
  const reading = { choices: READY_CHOICES, zone: ROME, away };
  for (const how of ["at-once", "digest"] as const)
    expect(new Date(leavesAt(how, reading, at("2026-11-24T10:00+01:00"))).toISOString()).toBe(
      "2026-11-30T07:00:00.000Z",
    );
});

test("one's own choice counts, then the publication's, then mail at once and no chat", () => {
  const publication = tellingSchema.parse({ mail: { know: "digest" }, chat: { decide: "at-once" } });
  const own = tellingSchema.parse({ mail: { decide: "never" } });
  expect(howTold("decide", "mail", own, publication)).toBe("never");
  expect(howTold("know", "mail", own, publication)).toBe("digest");
  expect(howTold("work", "mail", null, publication)).toBe("at-once");
  // A letter of the week is for who wants it.
  expect(howTold("week", "mail", null, publication)).toBe("never");
  expect(howTold("week", "mail", { ...own, mail: { week: "at-once" } }, publication)).toBe("at-once");
  expect(howTold("decide", "chat", own, publication)).toBe("at-once");
  expect(howTold("look", "chat", own, publication)).toBe("never");
});

test("a decision that is asked reaches one somehow", () => {
  const never = tellingSchema.parse({ mail: { decide: "never" } });
  expect(unreachable(never, READY_CHOICES)).toMatch(/Others wait/);
  expect(
    unreachable(tellingSchema.parse({ mail: { decide: "never" }, chat: { decide: "digest" } }), READY_CHOICES),
  ).toBeNull();
  expect(tellingSchema.safeParse({ digestAt: "25:00" }).success).toBe(false);
});
