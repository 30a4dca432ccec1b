import { z } from "zod";
import { TOPICS } from "../telling/choices.ts";
import { WORDED } from "../telling/wording.ts";
import { counted } from "../words/say.ts";
import { event } from "./event.ts";

const nothing = z.object({});
const named = z.object({ name: z.string() });
const under = z.object({ name: z.string(), under: z.string().nullable() });

export const publicationBegun = event("publication.begun", {
  payload: z.object({ publication: z.string(), name: z.string(), email: z.string() }),
  says: ({ publication }) => `set up ${publication}`,
});
export const publicationChanged = event("publication.changed", {
  payload: z.looseObject({ name: z.string(), shifted: z.number() }),
  says: ({ shifted }) =>
    `changed the publication${shifted > 0 ? `; ${counted(shifted, "due date")} moved with its calendar` : ""}`,
});

export const sectionMade = event("section.made", { payload: under, says: () => "made the section" });
export const sectionRenamed = event("section.renamed", { payload: named, says: () => "renamed the section" });
export const sectionMoved = event("section.moved", {
  payload: under,
  says: (payload) => `moved the section ${payload.under ? `under ${payload.under}` : "to the top"}:`,
});
export const sectionDeleted = event("section.deleted", { payload: nothing, says: () => "did away with the section" });

export const kindMade = event("kind.made", { payload: named, says: () => "made the kind" });
export const kindChanged = event("kind.changed", {
  payload: z.object({ name: z.string(), fields: z.array(z.unknown()) }),
  says: () => "changed the kind",
});
export const kindDeleted = event("kind.deleted", { payload: nothing, says: () => "did away with the kind" });

const wordingOf = z.object({ event: z.string(), part: z.string(), place: z.enum(WORDED) });
export const wordingChosen = event("wording.chosen", {
  payload: z.object({ of: wordingOf, headline: z.string(), body: z.string() }),
  says: ({ of }) => `worded anew what is told of ${of.event}`,
});
export const wordingGivenUp = event("wording.given-up", {
  payload: z.object({ of: wordingOf }),
  says: ({ of }) => `came back to the ready-made words of ${of.event}`,
});

const heardOf = z.object({ scope: z.enum(["section", "workflow"]), name: z.string() });
export const channelNamed = event("channel.named", {
  payload: z.object({ of: heardOf, topics: z.array(z.enum(TOPICS)) }),
  says: ({ of }) => `named a chat channel that hears of the ${of.scope} ${of.name}`,
});
export const channelRemoved = event("channel.removed", {
  payload: z.object({ of: heardOf }),
  says: ({ of }) => `took the chat channel of the ${of.scope} ${of.name} away`,
});
