import { type LookupAddress, lookup } from "node:dns";
import http from "node:http";
import https from "node:https";
import { BlockList, isIP, type LookupFunction } from "node:net";
import { eq } from "drizzle-orm";
import type { Database } from "../db/client.ts";
import { chatChannel, type outbox, person } from "../db/schema/index.ts";
import { decipher } from "../people/secrets.ts";

const PATIENCE = 8_000;
/** So much of what a channel answers is read. */
const ANSWER = 2_000;

/** A channel that will not take a message, however often it is sent. */
export class TurnedAway extends Error {}

/** Addresses that are nobody's in the open: the machine's own, the house's, those kept for other uses (RFC 6890). */
const PRIVATE = new BlockList();
for (const [net, prefix] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 3],
] as const)
  PRIVATE.addSubnet(net, prefix, "ipv4");
for (const [net, prefix] of [
  ["::", 127],
  ["::ffff:0:0", 96],
  ["64:ff9b::", 96],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
] as const)
  PRIVATE.addSubnet(net, prefix, "ipv6");

const isPrivate = (address: string) => PRIVATE.check(address, isIP(address) === 6 ? "ipv6" : "ipv4");

/** Why an address is none a message may be sent to, or null. @param standIn the address that stands in for a channel */
export function whyNotAddress(address: string, standIn: string | null): string | null {
  if (address === standIn) return null;
  const url = URL.canParse(address) ? new URL(address) : null;
  if (url?.protocol !== "https:" || url.username !== "" || url.password !== "")
    return "The address of a channel begins with https://.";
  const host = url.hostname.replace(/^\[|\]$/g, "");
  if (host === "localhost" || host.endsWith(".localhost") || (isIP(host) !== 0 && isPrivate(host)))
    return "That address lies within this house; a channel's lies outside.";
  return null;
}

/** Looks a name up, and finds nothing where it leads into the house: looked at as the connection is made. */
const outside: LookupFunction = (host, options, done) =>
  lookup(host, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return done(error, "");
    const inside = found.find(({ address }) => isPrivate(address));
    if (inside) return done(new TurnedAway(`${host} leads to ${inside.address}, within this house`), "");
    if (options.all) return done(null, found);
    const [first] = found;
    return done(null, first?.address ?? "", first?.family);
  });

/** Where the chat stand-in listens, where stand-ins are switched on. */
export const standInChannel = (baseUrl: string) => `${baseUrl}/standins/chat`;

/** Whose channel a message goes to: a person's, or one of many readers. */
type Addressed = Pick<typeof outbox.$inferSelect, "personId" | "channelId">;

async function addressOf(db: Database, { personId, channelId }: Addressed): Promise<string | null> {
  const [row] = channelId
    ? await db.select({ address: chatChannel.address }).from(chatChannel).where(eq(chatChannel.id, channelId))
    : await db
        .select({ address: person.chatAddress })
        .from(person)
        .where(eq(person.id, personId ?? ""));
  return row?.address ? decipher(row.address) : null;
}

/**
 * Says something in a channel, by its incoming webhook: a JSON object with the words as `text`.
 *
 * @throws TurnedAway where the channel will never take it; another error where it may, later
 */
export async function sayInChat(
  { db, baseUrl, standIns }: { db: Database; baseUrl: string; standIns: boolean },
  to: Addressed,
  { text }: { text: string },
): Promise<void> {
  const address = await addressOf(db, to);
  if (!address) throw new TurnedAway("the channel is named no more");
  const standIn = standIns ? standInChannel(baseUrl) : null;
  const closed = whyNotAddress(address, standIn);
  if (closed) throw new TurnedAway(closed);
  const status = await post(address, JSON.stringify({ text }), address === standIn);
  if (status >= 200 && status < 300) return;
  const says = `the channel answered ${status}`;
  // It is moved, unknown or closed to us; what is busy (RFC 6585) or broken may do later.
  if (status < 500 && status !== 408 && status !== 429) throw new TurnedAway(says);
  throw new Error(says);
}

function post(address: string, body: string, within: boolean): Promise<number> {
  const url = new URL(address);
  const send = url.protocol === "https:" ? https.request : http.request;
  return new Promise((resolve, reject) => {
    const asked = send(
      url,
      {
        method: "POST",
        headers: { "Content-Type": "application/json", "Content-Length": Buffer.byteLength(body) },
        signal: AbortSignal.timeout(PATIENCE),
        ...(!within && { lookup: outside }),
      },
      (answer) => {
        let read = 0;
        answer.on("data", (part: Buffer) => {
          read += part.length;
          if (read > ANSWER) answer.destroy();
        });
        answer.on("close", () => resolve(answer.statusCode ?? 0));
        answer.on("error", () => resolve(answer.statusCode ?? 0));
      },
    );
    asked.on("error", reject);
    asked.end(body);
  });
}
