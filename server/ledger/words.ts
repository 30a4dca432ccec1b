/** What an entry's `after` may hold, as far as its sentence needs it. */
type After = Record<string, unknown>;

const SENTENCES: Record<string, (after: After) => string> = {
  "piece.created": (after) => `began it in ${after.section}`,
  "version.saved": (after) => `saved version ${after.version}`,
  "piece.moved": (after) => `${after.step}: now in ${after.name}`,
  "round.opened": (after) => `review opened on version ${after.version}`,
  "approvals.void": (after) =>
    `the text changed, so ${after.seats === 1 ? "one decision no longer counts" : `${after.seats} decisions no longer count`}`,
  "review.decided": (after) => `${VERDICTS[String(after.verdict)]} version ${after.version} in ${after.state}`,
  "release.planned": () => "planned the release",
  "release.cancelled": () => "took the plan for its release back",
  "release.held": () => "the release was held",
  "piece.released": (after) => `version ${after.version} reached readers`,
  "comment.made": () => "commented",
  "comment.settled": () => "settled a comment",
  "comment.reopened": () => "opened a comment again",
  "workflow.bound": (after) => `put it on ${after.name ?? "another line"}`,
  "piece.rerouted": (after) =>
    after.moved ? `the workflow changed: now in ${after.name}` : `the workflow changed; it stays in ${after.name}`,
  "point.ticked": (after) => `ticked “${after.words}”`,
  "point.unticked": (after) => `took the tick from “${after.words}”`,
};

const VERDICTS: Record<string, string> = {
  approve: "approved",
  return: "returned",
  decline: "declined",
  abstain: "abstained on",
};

/** What happened, as the end of a sentence that begins with a name. */
export function sayAction(action: string, after: unknown): string {
  return SENTENCES[action]?.((after ?? {}) as After) ?? action;
}
