import fc from "fast-check";
import { readShape, type Workflow } from "#core/workflow/document.ts";

const seatRules = (people: readonly string[]) =>
  fc.array(
    fc.oneof(
      fc.record({ person: fc.constantFrom(...people) }),
      fc.record(
        {
          role: fc.constantFrom("checker", "copy-editor", "safety"),
          pick: fc.constantFrom("everyone", "least-busy", "sender"),
          number: fc.constantFrom(1, 2),
        },
        { requiredKeys: ["role", "pick"] },
      ),
    ),
    { minLength: 1, maxLength: 3 },
  );
const reviews = (people: readonly string[]) =>
  fc.record({
    rule: fc.constantFrom("any", "all", "count", "in-order"),
    count: fc.constantFrom(1, 2),
    authorMayDecide: fc.boolean(),
    signed: fc.constantFrom(undefined, undefined, true as const),
    seats: seatRules(people),
    off: fc.constantFrom(false, false, false, true),
    take: fc.constantFrom(undefined, "1wd", "3wh"),
    assign: fc.subarray(["author", "role:checker", "least-busy:copy-editor", "person:lene"]),
    checklist: fc.subarray(["Read aloud"]),
    requires: fc.subarray(["note", "checklist", "not-author", "fields"]),
    declines: fc.boolean(),
  });
/** Workflows of one to three reviews between a draft and readers, some of them switched off; sound or not. */
export const lines = (people: readonly string[]): fc.Arbitrary<Workflow> =>
  fc.array(reviews(people), { minLength: 1, maxLength: 3 }).map((all) => {
    const key = (i: number) => (i < all.length ? `r${i}` : "ready");
    const document = {
      format: "elenco.workflow/1",
      key: "random",
      name: "Random",
      initial: "draft",
      mainLine: ["draft", ...all.map((_, i) => key(i)), "ready", "live"],
      states: [
        { key: "draft", name: "Draft", kind: "writing", take: "2wd", editors: ["author"] },
        ...all.map((review, i) => ({
          key: key(i),
          name: `Review ${i}`,
          kind: "review",
          ...(review.off && { bypass: `on${i}` }),
          ...(review.take && { take: review.take }),
          arrival: { assign: review.assign, notify: [], checklist: review.checklist },
          review: {
            rule: review.rule,
            ...(review.rule === "count" && { count: review.count }),
            authorMayDecide: review.authorMayDecide,
            ...(review.signed && { signed: review.signed }),
            seats: review.seats,
            approve: `on${i}`,
            return: `back${i}`,
            ...(review.declines && { decline: `drop${i}` }),
          },
        })),
        { key: "ready", name: "Ready", kind: "ready" },
        { key: "live", name: "Live", kind: "live" },
        { key: "dropped", name: "Dropped", kind: "closed" },
      ],
      transitions: [
        {
          key: "send",
          name: "Send",
          from: ["draft"],
          to: "r0",
          by: ["author", "role:copy-editor"],
          requires: ["note"],
        },
        ...all.flatMap((review, i) => [
          { key: `on${i}`, name: `On ${i}`, from: [key(i)], to: key(i + 1), requires: review.requires },
          { key: `back${i}`, name: `Back ${i}`, from: [key(i)], to: "draft", by: ["assignee"] },
          { key: `drop${i}`, name: `Drop ${i}`, from: [key(i)], to: "dropped" },
        ]),
        { key: "release", name: "Release", from: ["ready"], to: "live", by: ["role:chief"], requires: ["not-author"] },
        { key: "reopen", name: "Reopen", from: ["ready"], to: "draft", by: ["author", "person:lene"] },
      ],
    };
    const read = readShape(document);
    if ("problems" in read) throw new Error(JSON.stringify(read.problems));
    return read.workflow;
  });
