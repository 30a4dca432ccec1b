import fc from "fast-check";
import { type Decision, judge, type Round, type Rule, type Verdict } from "./round.ts";

const round = (rule: Rule, seats: string, count = 2): Round => ({
  rule,
  count,
  version: "v1",
  seats: [...seats].map((id) => ({ id: id.toLowerCase(), void: id === id.toUpperCase() })),
});

const VERDICTS: Record<string, Verdict> = { "+": "approve", "-": "return", x: "decline", o: "abstain" };

/** `a+ b-` is: seat a approved, then seat b returned. A `*` after it means an older version. */
const said = (words: string): Decision[] =>
  words
    .split(" ")
    .filter(Boolean)
    .map((word) => ({
      seat: word[0] ?? "",
      verdict: VERDICTS[word[1] ?? ""] as Verdict,
      version: word[2] === "*" ? "v0" : "v1",
    }));

/** An outcome in short: `open:ab`, `passed:a`. */
const short = (of: Round, decisions: Decision[]) => {
  const outcome = judge(of, decisions);
  if (outcome.kind !== "open") return `${outcome.kind}:${outcome.decidedBy}`;
  return `open:${outcome.openSeats.join("")}${outcome.stuck ? ` ${outcome.stuck}` : ""}`;
};

// A capital letter is a void seat.
test.each<[Rule, string, string, string]>([
  ["any", "abc", "", "open:abc"],
  ["any", "abc", "b+", "passed:b"],
  ["any", "abc", "b-", "returned:b"],
  ["any", "abc", "ao", "open:bc"],
  ["any", "Abc", "a+", "open:bc"],
  ["any", "abc", "bx", "declined:b"],
  ["any", "abc", "b+*", "open:abc"],
  ["any", "abc", "z+", "open:abc"],
  ["any", "ab", "ao bo", "open: abstained"],
  ["any", "AB", "", "open: nobody"],
  ["any", "ab", "ao a+", "passed:a"],
  ["all", "abc", "a+ b+", "open:c"],
  ["all", "abc", "a+ b+ c+", "passed:c"],
  ["all", "abC", "a+ b+", "passed:b"],
  ["all", "abc", "a+ b-", "returned:b"],
  ["all", "abc", "ao b+ c+", "passed:c"],
  ["all", "ab", "ao bo", "open: abstained"],
  ["all", "ab", "a+ a-", "returned:a"],
  ["count", "abc", "a+", "open:bc"],
  ["count", "abc", "a+ c+", "passed:c"],
  ["count", "abc", "ao", "open:bc"],
  ["count", "abc", "ao bo", "open:c too-few"],
  ["count", "abc", "ao bo c+", "open: too-few"],
  ["count", "aBC", "a+", "open: too-few"],
  ["count", "aBC", "a-", "returned:a"],
  ["count", "abc", "a+ a+", "open:bc"],
  ["in-order", "abc", "", "open:a"],
  ["in-order", "abc", "b+", "open:a"],
  ["in-order", "abc", "a+", "open:b"],
  ["in-order", "abc", "a+ b+ c+", "passed:c"],
  ["in-order", "abc", "a+ b-", "returned:b"],
  ["in-order", "aBc", "a+ c+", "passed:c"],
  ["in-order", "abc", "a+ a-", "returned:a"],
])("%s over %s, after %s: %s", (rule, seats, words, expected) => {
  expect(short(round(rule, seats), said(words))).toBe(expected);
});

test.each<[Rule, boolean[], string]>([
  ["any", [true, true], "nobody"],
  ["any", [true, false], ""],
  ["all", [true, false], "too-few"],
  ["in-order", [false, true], "too-few"],
  ["count", [true, false, false], ""],
  ["count", [true, true, false], "too-few"],
])("%s with vacant seats %j: %s", (rule, vacant, expected) => {
  const seats = vacant.map((one, i) => ({ id: String(i), void: false, vacant: one }));
  expect(judge({ rule, count: 2, version: "v1", seats }, [])).toMatchObject({ stuck: expected || null });
});

describe("laws", () => {
  const anyRound = fc.record({
    rule: fc.constantFrom<Rule>("any", "all", "count", "in-order"),
    seats: fc.constantFrom("a", "ab", "abc", "aBc", "abcd"),
    count: fc.integer({ min: 1, max: 4 }),
  });
  const decisions = fc.array(
    fc.record({
      seat: fc.constantFrom("a", "b", "c", "d", "z"),
      verdict: fc.constantFrom<Verdict>("approve", "return", "decline", "abstain"),
      version: fc.constantFrom("v1", "v1", "v0"),
    }),
    { maxLength: 8 },
  );

  test("what is decided stays decided, whatever is said afterwards", () =>
    fc.assert(
      fc.property(anyRound, decisions, decisions, ({ rule, seats, count }, before, after) => {
        const of = round(rule, seats, count);
        const then = judge(of, before);
        if (then.kind !== "open") expect(judge(of, [...before, ...after])).toEqual(then);
      }),
    ));

  test("words about another version, or from nobody's seat, change nothing", () =>
    fc.assert(
      fc.property(anyRound, decisions, ({ rule, seats, count }, all) => {
        const of = round(rule, seats, count);
        expect(judge(of, all)).toEqual(
          judge(
            of,
            all.filter((one) => one.version === "v1" && seats.includes(one.seat)),
          ),
        );
      }),
    ));

  test("a round is stuck exactly where approvals by all who are left would not pass it", () =>
    fc.assert(
      fc.property(anyRound, decisions, ({ rule, seats, count }, all) => {
        const of = round(rule, seats, count);
        const outcome = judge(of, all);
        if (outcome.kind !== "open") return;
        const rest = of.seats.filter(
          (seat) => !seat.void && !all.some((one) => one.version === "v1" && one.seat === seat.id),
        );
        const inOrder = rule === "in-order" ? of.seats.filter((seat) => !seat.void) : rest;
        const approving = inOrder
          .filter((seat) => rule !== "in-order" || !spokenInTurn(of, all).has(seat.id))
          .map((seat): Decision => ({ seat: seat.id, verdict: "approve", version: "v1" }));
        expect(judge(of, [...all, ...approving]).kind === "passed").toBe(outcome.stuck === null);
      }),
    ));

  /** The seats that have spoken in their turn, by asking again before each decision who is asked. */
  function spokenInTurn(of: Round, all: readonly Decision[]): Set<string> {
    const spoken = new Set<string>();
    for (const [i, one] of all.entries()) {
      const before = judge(of, all.slice(0, i));
      if (one.version === "v1" && before.kind === "open" && before.openSeats.includes(one.seat)) spoken.add(one.seat);
    }
    return spoken;
  }

  test("approvals and abstentions made at once end a round the same way in whatever order they are taken", () =>
    fc.assert(
      fc.property(anyRound, decisions, fc.infiniteStream(fc.nat(100)), ({ rule, seats, count }, all, chance) => {
        if (rule === "in-order") return;
        const mild = all.filter(({ verdict }) => verdict === "approve" || verdict === "abstain");
        const once = mild.filter((one, i) => mild.findIndex(({ seat }) => seat === one.seat) === i);
        const shuffled = once
          .map((one) => ({ one, at: chance.next().value as number }))
          .toSorted((a, b) => a.at - b.at)
          .map(({ one }) => one);
        const of = round(rule, seats, count);
        expect(judge(of, shuffled).kind).toBe(judge(of, once).kind);
      }),
    ));

  test("a round ends, names whom it waits for, or says that it is stuck", () =>
    fc.assert(
      fc.property(anyRound, decisions, ({ rule, seats, count }, all) => {
        const outcome = judge(round(rule, seats, count), all);
        if (outcome.kind !== "open") return;
        expect(outcome.openSeats.length > 0 || outcome.stuck !== null).toBe(true);
        for (const seat of outcome.openSeats) expect(seats).toContain(seat);
      }),
    ));

  test("nothing passes without an approval, and only a seat that counts decides", () =>
    fc.assert(
      fc.property(anyRound, decisions, ({ rule, seats, count }, all) => {
        const of = round(rule, seats, count);
        const outcome = judge(of, all);
        if (outcome.kind === "passed")
          expect(all.some((one) => one.verdict === "approve" && one.version === "v1")).toBe(true);
        const last = all.filter((one) => one.version === "v1" && seats.includes(one.seat));
        if (outcome.kind === "returned") expect(last.some((one) => one.verdict === "return")).toBe(true);
        if (outcome.kind === "declined") expect(last.some((one) => one.verdict === "decline")).toBe(true);
        if (outcome.kind !== "open") expect(of.seats.find((seat) => seat.id === outcome.decidedBy)?.void).toBe(false);
      }),
    ));
});
