import { sayFan } from "./fan.ts";

const at = (day: string) => Date.parse(`${day}T12:00:00Z`);

test.each([
  ["2026-12-01", "2026-12-09", "eight times of ten between Tue 1 Dec and Wed 9 Dec"],
  ["2026-12-30", "2027-01-08", "eight times of ten between Wed 30 Dec and Fri 8 Jan 2027"],
])("from %s to %s: %s", (from, until, said) => {
  expect(sayFan({ p10: at(from), p50: at(from), p90: at(until) }, "Europe/Rome", at("2026-11-24"))).toBe(said);
});
