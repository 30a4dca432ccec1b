import { usualEnd } from "./channel.ts";

test.each([
  ["over the end of summer time, the same hour of the day", 7, "2026-10-20T07:00+02:00", "2026-10-27T07:00+01:00"],
  ["into a skipped hour, when it would have been", 7, "2027-03-21T02:30+01:00", "2027-03-28T03:30+02:00"],
  ["for always", null, "2026-10-20T07:00+02:00", null],
])("%s", (_, days, at, end) => {
  expect(usualEnd({ at: null, days }, Date.parse(at), "Europe/Rome")).toBe(end && Date.parse(end));
});
