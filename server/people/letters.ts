import { eq } from "drizzle-orm";
import { sayExactly } from "#core/time/words.ts";
import { person } from "../db/schema/index.ts";
import { loadPlaces } from "../sections/places.ts";
import type { Change } from "../write.ts";

/** What an account's owner is written whatever notices they want: how it is opened has changed. */
const CHANGES = {
  password: "The password was changed",
  "factor-set": "A second factor was set up",
  "factor-dropped": "The second factor was taken away",
  "factors-cleared": "The second factors were taken away, since they were lost",
  "recovery-code": "A recovery code was used to sign in",
  "passkey-added": "A passkey was added",
  "passkey-dropped": "A passkey was taken away",
  browser: "Somebody signed in from a browser not seen before",
};

/** Writes to a person that how their account is opened has changed. @param where what tells one browser from another */
export async function tellOwner(
  change: Change,
  personId: string,
  what: keyof typeof CHANGES,
  { baseUrl, where = "" }: { baseUrl: string; where?: string },
): Promise<void> {
  const [owner] = await change.tx.select().from(person).where(eq(person.id, personId));
  if (!owner) return;
  const { name, calendar } = await loadPlaces(change.tx);
  change.post({
    to: owner.email,
    subject: `${CHANGES[what]}: your account at ${name}`,
    body: [
      `Dear ${owner.name.split(" ")[0]},`,
      "",
      `${CHANGES[what]}, ${sayExactly(change.now, owner.zone ?? calendar.timeZone)}${where && ` (${where})`}.`,
      "",
      "If that was you, there is nothing to do. If it was not, choose a new password at once, which ends every session:",
      `${baseUrl}/forgot`,
      "",
    ].join("\n"),
  });
}
