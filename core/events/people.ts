import { z } from "zod";
import { tellingSchema } from "../telling/choices.ts";
import { event } from "./event.ts";

const nothing = z.object({});
const account = { leads: "account" as const };

export const guestInvited = event("guest.invited", {
  payload: z.object({ name: z.string(), until: z.number(), decides: z.boolean() }),
  says: ({ name }) => `let ${name} in as a guest`,
});
export const guestRevoked = event("guest.revoked", { payload: nothing, says: () => "took a guest’s link back" });
export const guestNamed = event("guest.named", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `came in as ${name}`,
});

export const personInvited = event("person.invited", {
  payload: z.object({ name: z.string(), email: z.string() }),
  says: () => "invited",
});
export const personJoined = event("person.joined", { payload: z.object({ name: z.string() }), says: () => "joined" });
export const passwordAsked = event("password.asked", {
  payload: nothing,
  says: () => "a link to a new password was asked for",
});
export const passwordChanged = event("password.changed", { payload: nothing, says: () => "chose a new password" });
export const secondFactorSet = event("second-factor.set", { payload: nothing, says: () => "set up a second factor" });
export const secondFactorDropped = event("second-factor.dropped", {
  payload: nothing,
  says: () => "took their second factor away",
});
export const passkeyAdded = event("passkey.added", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `added the passkey ${name}`,
});
export const passkeyDropped = event("passkey.dropped", {
  payload: z.object({ name: z.string() }),
  says: ({ name }) => `took the passkey ${name} away`,
});
export const tellingChosen = event("telling.chosen", {
  payload: z.object({ choices: tellingSchema, chat: z.boolean() }),
  says: () => "chose how to be told",
  ...account,
});

export const calendarGiven = event("calendar.given", {
  payload: nothing,
  says: () => "gave their calendar file out at a new address",
  ...account,
});
export const calendarTaken = event("calendar.taken", {
  payload: nothing,
  says: () => "took the address of their calendar file back",
  ...account,
});

export const limitSet = event("limit.set", {
  payload: z.object({ person: z.string(), limit: z.number() }),
  says: ({ person, limit }) => `said that ${limit} at once is enough for ${person}`,
  ...account,
});

export const zoneChosen = event("zone.chosen", {
  payload: z.object({ zone: z.string().nullable() }),
  says: ({ zone }) => `sees times in ${zone ?? "the publication’s zone"}`,
});
export const sessionOpened = event("session.opened", { payload: nothing, says: () => "signed in" });
export const sessionEnded = event("session.ended", { payload: nothing, says: () => "signed out" });
export const seeAsBegan = event("see-as.began", {
  payload: z.object({ name: z.string() }),
  says: () => "began to see as",
});
export const seeAsEnded = event("see-as.ended", { payload: nothing, says: () => "no longer sees as" });

const given = z.looseObject({ grant: z.string(), role: z.string() });
export const roleGiven = event("role.given", {
  payload: given,
  says: ({ role }) => `gave the role ${role} to`,
  tells: { holder: { asks: "look", says: ({ payload, actor }) => `${actor} gave you the role ${payload.role}` } },
  ...account,
});
export const roleEnded = event("role.ended", {
  payload: z.object({ grant: z.string(), role: z.string(), until: z.number().nullable() }),
  says: ({ role, until }) => `${until === null ? "took the end off" : "set an end to"} the role ${role} of`,
  tells: {
    holder: {
      asks: "look",
      says: ({ payload, actor }) =>
        payload.until === null
          ? `${actor} lets you keep the role ${payload.role}`
          : `${actor} ended your role ${payload.role}`,
    },
  },
  ...account,
});

const permissions = z.object({
  name: z.string(),
  permissions: z.array(z.string()),
  secondFactor: z.boolean().optional(),
});
export const roleChanged = event("role.changed", { payload: permissions, says: () => "changed the role" });
export const roleMade = event("role.made", { payload: permissions, says: () => "made the role" });
export const roleDeleted = event("role.deleted", { payload: nothing, says: () => "did away with the role" });

export const groupMade = event("group.made", { payload: z.object({ name: z.string() }), says: () => "made the group" });
export const groupChanged = event("group.changed", {
  payload: z.object({ name: z.string(), members: z.array(z.string()) }),
  says: () => "changed the group",
});
export const groupDeleted = event("group.deleted", { payload: nothing, says: () => "did away with the group" });

export const accessEnded = event("access.ended", { payload: nothing, says: () => "ended the access of" });
export const accessRestored = event("access.restored", {
  payload: z.object({ name: z.string() }),
  says: () => "gave access again to",
});

export const sessionsEnded = event("sessions.ended", { payload: nothing, says: () => "signed out everywhere" });
export const factorsCleared = event("factors.cleared", {
  payload: nothing,
  says: () => "took the lost second factors away of",
});

const days = z.object({ from: z.string(), until: z.string() });
export const absenceNoted = event("absence.noted", {
  payload: days,
  says: ({ from, until }) => `noted days away, ${from} to ${until}`,
});
export const absenceRemoved = event("absence.removed", { payload: nothing, says: () => "took days away back" });
export const standInNamed = event("stand-in.named", {
  payload: z.object({ standIn: z.string().nullable(), of: z.string().optional() }),
  says: ({ standIn }) => `named ${standIn ?? "nobody"} as stand-in`,
  tells: {
    standIn: {
      asks: "look",
      says: ({ payload }) => `You stand in for ${payload.of ?? "somebody"} while they are away`,
    },
  },
  ...account,
});
