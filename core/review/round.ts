/** How a round is passed. See `judge` for what each asks. */
export type Rule = "any" | "all" | "count" | "in-order";

export type Verdict = "approve" | "return" | "decline" | "abstain";

export type SeatId = string;

/** One reviewer's place in a round. `void` seats are out of the count. */
export interface Seat {
  id: SeatId;
  void: boolean;
}

/** One review of one piece. Seats stand in their order. */
export interface Round {
  rule: Rule;
  /** For `count`: how many approvals. */
  count: number;
  /** The hash of the version under review. */
  version: string;
  seats: readonly Seat[];
}

/** What one seat said, about which version. A later decision of the same seat replaces the earlier. */
export interface Decision {
  seat: SeatId;
  verdict: Verdict;
  version: string;
}

/** What a review round amounts to, given its decisions so far. */
export type Outcome =
  | { kind: "open"; openSeats: SeatId[] }
  | { kind: "passed" | "returned" | "declined"; decidedBy: SeatId };

/**
 * Judges a round by its rule. Decisions are taken in the order they were made; those on a void
 * seat or about another version than `round.version` do not count. An abstention leaves its seat
 * decided but uncounted; a round in which nobody approved does not pass.
 *
 * | rule | passes when | comes back when | open seats |
 * |---|---|---|---|
 * | any | the first approval | the first return | all undecided |
 * | all | all but the abstaining approved | the first return | all undecided |
 * | count | `count` approvals | the first return, or `count` is out of reach | all undecided |
 * | in-order | the last seat has spoken | the first return | the first undecided |
 *
 * @param decisions oldest first
 * @returns the outcome; `openSeats` lists who is asked to decide now
 */
export function judge(round: Round, decisions: readonly Decision[]): Outcome {
  const seats = round.seats.filter((seat) => !seat.void).map((seat) => seat.id);
  const spoken = new Map<SeatId, Verdict>();
  for (const decision of decisions) {
    if (decision.version !== round.version || !seats.includes(decision.seat)) continue;
    if (round.rule === "in-order" && !inTurn(seats, spoken, decision.seat)) continue;
    spoken.set(decision.seat, decision.verdict);
    const outcome = settled(round, seats, spoken, decision);
    if (outcome) return outcome;
  }
  const undecided = seats.filter((seat) => !spoken.has(seat));
  return { kind: "open", openSeats: round.rule === "in-order" ? undecided.slice(0, 1) : undecided };
}

function settled(
  round: Round,
  seats: readonly SeatId[],
  spoken: ReadonlyMap<SeatId, Verdict>,
  last: Decision,
): Outcome | null {
  if (last.verdict === "decline") return { kind: "declined", decidedBy: last.seat };
  if (last.verdict === "return") return { kind: "returned", decidedBy: last.seat };
  const said = [...spoken.values()];
  const approvals = said.filter((verdict) => verdict === "approve").length;
  const undecided = seats.length - said.length;
  if (round.rule === "count" && approvals + undecided < round.count) return { kind: "returned", decidedBy: last.seat };
  const passed = {
    any: approvals >= 1,
    all: approvals >= 1 && undecided === 0,
    count: approvals >= round.count,
    "in-order": approvals >= 1 && undecided === 0,
  }[round.rule];
  return passed ? { kind: "passed", decidedBy: last.seat } : null;
}

/** In order, a seat speaks when all before it have; one that has spoken may change its mind. */
function inTurn(seats: readonly SeatId[], spoken: ReadonlyMap<SeatId, Verdict>, seat: SeatId): boolean {
  return seats.slice(0, seats.indexOf(seat)).every((earlier) => spoken.has(earlier));
}
