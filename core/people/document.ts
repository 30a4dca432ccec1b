import { z } from "zod";
import { describeIssue, type Problem } from "../words/problems.ts";

const day = z.iso.date();

/** The people document `elenco.people/1`: who there is, in which roles, and who stands in for whom. */
export const peopleSchema = z.strictObject({
  format: z.literal("elenco.people/1").optional(),
  roles: z.array(z.strictObject({ key: z.string(), name: z.string(), permissions: z.array(z.string()) })),
  people: z.array(
    z.strictObject({
      key: z.string(),
      name: z.string(),
      active: z.boolean(),
      roles: z.array(z.string()),
      standIn: z.string().optional(),
      away: z.array(z.strictObject({ from: day, until: day })).optional(),
    }),
  ),
});

export type People = z.infer<typeof peopleSchema>;

/** Reads a people document from parsed JSON. */
export function readPeople(json: unknown): { people: People } | { problems: Problem[] } {
  const parsed = peopleSchema.safeParse(json);
  return parsed.success ? { people: parsed.data } : { problems: parsed.error.issues.flatMap(describeIssue) };
}

/** Keys of the active people who may begin a piece: those with a role that has `piece.create`. */
export function creators({ roles, people }: People): string[] {
  const creating = new Set(roles.filter((role) => role.permissions.includes("piece.create")).map((role) => role.key));
  return people.filter((one) => one.active && one.roles.some((role) => creating.has(role))).map((one) => one.key);
}
