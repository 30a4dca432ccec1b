import { filterIn } from "./piece-filter.ts";

const PERSON = "01a20000-0000-7000-8000-000000000001";

test.each<[string, object]>([
  ["", { show: "flight" }],
  [
    "section=winter&kind=route-guide&line=hut.page&state=copy_edit&author=tobia",
    { section: "winter", kind: "route-guide", line: "hut.page", state: "copy_edit", author: "tobia" },
  ],
  ["flag=urgent", { urgent: true, held: false, stuck: false, overridden: false }],
  ["flag=held", { urgent: false, held: true, stuck: false, overridden: false }],
  ["flag=stuck", { urgent: false, held: false, stuck: true, overridden: false }],
  ["flag=overridden", { urgent: false, held: false, stuck: false, overridden: true }],
  ["late=yes&plan=late", { late: true, planLate: true }],
  ["show=live", { show: "live" }],
  ["show=all", { show: "all" }],
  ["show=constructor", { show: "flight" }],
  ["sort=waits", { sort: "waits" }],
  ["sort=publish", { sort: "publish" }],
  ["within=30", { within: 30 }],
  [`holder=${PERSON}`, { holder: PERSON }],
  ["words=%00ford+%F0%9F%98%80", { words: "\0ford 😀" }],
])("the words of an address narrow a list: %s", (words, meant) => {
  expect(filterIn(new URLSearchParams(words))).toMatchObject(meant);
});

test.each(["section", "state", "kind", "line", "author"] as const)(
  "a %s that is no key names nothing, and does not narrow to all",
  (word) => {
    expect(filterIn(new URLSearchParams({ [word]: "😀" }))[word]).toBe("?");
    expect(filterIn(new URLSearchParams({ [word]: "a b" }))[word]).toBe("?");
    expect(filterIn(new URLSearchParams({ [word]: "" }))[word]).toBeUndefined();
    expect(filterIn(new URLSearchParams({ [word]: "x".repeat(500) }))[word]).toHaveLength(100);
  },
);

test.each(["sort=constructor", "within=31", "within=1e9", "holder=tobia", "holder=%27%20OR%201"])(
  "what an address may not ask is not asked: %s",
  (words) => {
    const { sort, within, holder } = filterIn(new URLSearchParams(words));
    expect([sort, within, holder]).toEqual([undefined, undefined, undefined]);
  },
);
