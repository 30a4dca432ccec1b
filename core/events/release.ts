import { z } from "zod";
import { type Hold, sayHold } from "../release/preflight.ts";
import { counted } from "../words/say.ts";
import { event } from "./event.ts";

const plan = z.object({
  at: z.number(),
  version: z.number(),
  hash: z.string(),
  /** The channel, where it is not the reader site. */
  through: z.string().optional(),
});
const goes = ({ through }: { through?: string | undefined }) => (through ? `leaves through ${through}` : "goes live");
/** Holds kept before they were codes say their sentence. */
const holds = z.array(
  z.object({ code: z.string(), about: z.array(z.string()).optional(), sentence: z.string().optional() }),
);
type Held = z.infer<typeof holds>;

/** What stands in the way of a release, in sentences. */
export const sayHolds = (held: Held): string => held.map((hold) => hold.sentence ?? sayHold(hold as Hold)).join(" ");

export const releasePlanned = event("release.planned", {
  payload: plan,
  says: () => "planned the release",
  tells: {
    author: { asks: "nothing", says: ({ payload, title, when }) => `“${title}” ${goes(payload)} ${when(payload.at)}` },
  },
});

export const releaseProposed = event("release.proposed", {
  payload: plan,
  says: () => "proposed a date for the release",
  tells: {
    confirmers: {
      asks: "work",
      says: ({ payload, actor, title, when }) => `${actor} proposes ${when(payload.at)} for “${title}”: confirm it`,
    },
  },
});

export const releaseConfirmed = event("release.confirmed", {
  payload: plan,
  says: () => "confirmed the date of the release",
  tells: {
    author: { asks: "nothing", says: ({ payload, title, when }) => `“${title}” ${goes(payload)} ${when(payload.at)}` },
  },
});

/** A release whose time came late while its channel was closed. */
export const releasePutOff = event("release.put-off", {
  payload: z.object({ at: z.number() }),
  says: () => "the release waits for the next window",
});

/** A release that was held and is so no more, since what held it has changed. */
export const releaseResumed = event("release.resumed", {
  payload: z.object({ at: z.number() }),
  says: () => "nothing holds the release any more",
  tells: {
    owners: {
      asks: "look",
      says: ({ payload, title, when }) =>
        `Nothing holds the release of “${title}” any more: it goes out ${when(payload.at)}`,
    },
  },
});

export const channelChanged = event("channel.changed", {
  payload: z.object({
    key: z.string(),
    name: z.string(),
    windows: z.unknown(),
    lookout: z.unknown(),
    moved: z.number(),
    people: z.array(z.string()).optional(),
    editions: z.unknown().optional(),
    usual: z.unknown().optional(),
  }),
  says: ({ moved }) =>
    `changed the channel${moved > 0 ? `; ${counted(moved, "planned release")} moved with its windows` : ""}`,
});

export const channelRetired = event("channel.retired", {
  payload: z.object({ key: z.string(), name: z.string(), ended: z.number() }),
  says: ({ name, ended }) => `gave ${name} up${ended > 0 ? `; ${counted(ended, "plan")} ended with it` : ""}`,
});

const ofChannel = z.object({ key: z.string(), name: z.string() });
export const channelCalendarGiven = event("channel-calendar.given", {
  payload: ofChannel,
  says: ({ name }) => `gave the calendar of ${name} out at a new address`,
});
export const channelCalendarTaken = event("channel-calendar.taken", {
  payload: ofChannel,
  says: ({ name }) => `took the address of the calendar of ${name} back`,
});

export const embargoSet = event("embargo.set", {
  payload: z.object({ until: z.number().nullable(), note: z.string() }),
  says: ({ until }) => (until === null ? "lifted the embargo" : "put it under embargo"),
  tells: {
    owners: {
      asks: "look",
      says: ({ payload, actor, title, when }) =>
        payload.until === null
          ? `${actor} lifted the embargo on “${title}”`
          : `${actor}: nothing of “${title}” reaches readers before ${when(payload.until)}`,
      note: ({ payload }) => payload.note,
    },
  },
});

/** When readers see it no more, by itself. */
export const endChanged = event("end.changed", {
  payload: z.object({ at: z.number().nullable() }),
  says: ({ at }) =>
    at === null ? "took the end of its time with readers away" : "set an end to its time with readers",
});

export const releaseEnding = event("release.ending", {
  payload: z.object({ at: z.number() }),
  says: () => "its time with readers ends soon",
  tells: {
    owners: { asks: "look", says: ({ payload, title, when }) => `Readers see “${title}” until ${when(payload.at)}` },
  },
});

export const endedElsewhere = event("release.ended", {
  payload: z.object({ through: z.string() }),
  says: ({ through }) => `its time in ${through} is over`,
});

/** When somebody wishes that it reached readers. */
export const wishChanged = event("wish.changed", {
  payload: z.object({ at: z.number().nullable() }),
  says: ({ at }) => (at === null ? "wishes for no date any more" : "wishes for another date"),
  tells: {
    author: {
      asks: "look",
      says: ({ payload, actor, title, when }) =>
        payload.at === null
          ? `${actor} wishes for no date of “${title}” any more`
          : `${actor} wishes “${title}” to reach readers ${when(payload.at)}`,
    },
  },
});

export const releaseRebound = event("release.rebound", {
  payload: z.object({ at: z.number(), version: z.number() }),
  says: ({ version }) => `the planned release takes version ${version}`,
});

export const releaseCancelled = event("release.cancelled", {
  payload: z.object({ why: z.string().optional() }),
  says: ({ why }) => (why ? `the plan for its release ended: ${why}` : "took the plan for its release back"),
});

export const releaseHeld = event("release.held", {
  payload: z.object({ at: z.number(), holds }),
  says: () => "the release was held",
  tells: {
    owners: {
      asks: "mending",
      says: ({ title }) => `The release of “${title}” is held`,
      note: ({ payload }) => sayHolds(payload.holds),
    },
  },
});

/** A release planned for later meets something that would hold it, or no longer does. */
export const releaseForeseen = event("release.foreseen", {
  payload: z.object({ at: z.number(), holds }),
  says: ({ holds }) =>
    holds.length > 0 ? "something stands in the way of the release" : "nothing stands in the way of the release",
  tells: {
    owners: {
      asks: "mending",
      says: ({ payload, title, when }) =>
        payload.holds.length > 0
          ? `The release of “${title}”, ${when(payload.at)}, will be held`
          : `Nothing stands in the way of the release of “${title}”, ${when(payload.at)}`,
      note: ({ payload }) => sayHolds(payload.holds),
    },
  },
});
