/** How a round is passed. See `judge` for what each asks. */
export type Rule = "any" | "all" | "count" | "in-order";

export type Verdict = "approve" | "return" | "decline" | "abstain";

export type SeatId = string;

/** One reviewer's place in a round. */
export interface Seat {
  id: SeatId;
  /** Out of the count. */
  void: boolean;
  /** Whether nobody is there who could decide: they left, or may decide here no more. */
  vacant?: boolean;
}

/** One review of one piece. Seats stand in their order. */
export interface Round {
  rule: Rule;
  /** For `count`: how many approvals. */
  count: number;
  /** What is under review: the hash of the words an approval binds to. */
  version: string;
  seats: readonly Seat[];
}

/** What one seat said, about which version. A later decision of the same seat replaces the earlier. */
export interface Decision {
  seat: SeatId;
  verdict: Verdict;
  version: string;
}

/** Why a round can no longer pass: no seat counts, everybody abstained, too few are left to approve. */
export type Stuck = "nobody" | "abstained" | "too-few";

/** What a review round amounts to, given its decisions so far. */
export type Outcome =
  | { kind: "open"; openSeats: SeatId[]; stuck: Stuck | null }
  | { kind: "passed" | "returned" | "declined"; decidedBy: SeatId };

/**
 * Judges a round by its rule. Decisions are taken in the order they were made; those on a void
 * seat or about another version than `round.version` do not count. An abstention leaves its seat
 * decided but uncounted. Nothing but a return returns, nothing but a decline declines: a round that
 * can no longer pass stays open and says that it is stuck.
 *
 * | rule | passes when | comes back when | open seats |
 * |---|---|---|---|
 * | any | the first approval | the first return | all undecided |
 * | all | all but the abstaining approved | the first return | all undecided |
 * | count | `count` approvals | the first return | all undecided |
 * | in-order | the last seat has spoken | the first return | the first undecided |
 *
 * @param decisions oldest first
 * @returns the outcome; `openSeats` lists who is asked to decide now
 */
export function judge(round: Round, decisions: readonly Decision[]): Outcome {
  const seats = round.seats.filter((seat) => !seat.void);
  const ids = seats.map((seat) => seat.id);
  const spoken = new Map<SeatId, Verdict>();
  for (const decision of decisions) {
    if (decision.version !== round.version || !ids.includes(decision.seat)) continue;
    if (round.rule === "in-order" && !inTurn(ids, spoken, decision.seat)) continue;
    spoken.set(decision.seat, decision.verdict);
    const outcome = settled(round, ids, spoken, decision);
    if (outcome) return outcome;
  }
  const undecided = ids.filter((id) => !spoken.has(id));
  const openSeats = round.rule === "in-order" ? undecided.slice(0, 1) : undecided;
  return { kind: "open", openSeats, stuck: stuckness(round, seats, spoken) };
}

function settled(
  round: Round,
  seats: readonly SeatId[],
  spoken: ReadonlyMap<SeatId, Verdict>,
  last: Decision,
): Outcome | null {
  if (last.verdict === "decline") return { kind: "declined", decidedBy: last.seat };
  if (last.verdict === "return") return { kind: "returned", decidedBy: last.seat };
  const approvals = approvalsIn(spoken);
  const everybodySpoke = spoken.size === seats.length;
  const passed = {
    any: approvals >= 1,
    all: approvals >= 1 && everybodySpoke,
    count: approvals >= round.count,
    "in-order": approvals >= 1 && everybodySpoke,
  }[round.rule];
  return passed ? { kind: "passed", decidedBy: last.seat } : null;
}

/** Whether the round can pass yet, if everybody who still may approves. */
function stuckness(round: Round, seats: readonly Seat[], spoken: ReadonlyMap<SeatId, Verdict>): Stuck | null {
  if (seats.length === 0) return "nobody";
  if (spoken.size === seats.length && approvalsIn(spoken) === 0) return "abstained";
  const undecided = seats.filter((seat) => !spoken.has(seat.id));
  const able = undecided.filter((seat) => !seat.vacant).length;
  const within = approvalsIn(spoken) + able;
  const waitsForAll = round.rule === "all" || round.rule === "in-order";
  if (waitsForAll ? able < undecided.length : within < (round.rule === "count" ? round.count : 1))
    return within === 0 ? "nobody" : "too-few";
  return null;
}

const approvalsIn = (spoken: ReadonlyMap<SeatId, Verdict>) =>
  [...spoken.values()].filter((verdict) => verdict === "approve").length;

/** In order, a seat speaks when all before it have; one that has spoken may change its mind. */
function inTurn(seats: readonly SeatId[], spoken: ReadonlyMap<SeatId, Verdict>, seat: SeatId): boolean {
  return seats.slice(0, seats.indexOf(seat)).every((earlier) => spoken.has(earlier));
}

/** When a round passes, as the end of a sentence. */
export function sayRule({ rule, count }: Pick<Round, "rule" | "count">): string {
  return {
    any: "the first answer decides",
    all: "all must approve",
    count: `${count} approvals are asked`,
    "in-order": "one after another",
  }[rule];
}

/** Why a round is stuck, in a sentence. */
export function sayStuck(stuck: Stuck, { rule, count }: Pick<Round, "rule" | "count">): string {
  if (stuck === "nobody") return "Nobody is left who could decide.";
  if (stuck === "abstained") return "Everybody abstained.";
  if (rule === "count") return `${count} approvals are asked, and too few people are left to give them.`;
  return "Somebody it waits for can decide no more.";
}
