import { type LookupAddress, lookup } from "node:dns";
import http from "node:http";
import https from "node:https";
import { BlockList, isIP, type LookupFunction } from "node:net";

const PATIENCE = 8_000;
/** So much of what the other side answers is read. */
const ANSWER = 2_000;

/** The other side will not take what is sent, however often it is. */
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

/** Whether an address is the stand-in's: as a whole, or by its path, which stays its own wherever the house is served. */
const isStandIn = (address: string, standIn: string | null): standIn is string =>
  standIn !== null && (address === standIn || address === new URL(standIn).pathname);

/** Why an address outside is none anything may be sent to, or null. @param standIn the address that stands in for it */
export function whyNotAddress(address: string, standIn: string | null): string | null {
  if (isStandIn(address, standIn)) return null;
  const url = URL.canParse(address) ? new URL(address) : null;
  if (url?.protocol !== "https:" || url.username !== "" || url.password !== "")
    return "An address outside begins with https://.";
  const host = url.hostname.replace(/^\[|\]$/g, "");
  if (host === "localhost" || host.endsWith(".localhost") || (isIP(host) !== 0 && isPrivate(host)))
    return "That address lies within this house; it must lie outside.";
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

/**
 * Sends JSON to an address outside, and reads no more of the answer than whether it was taken. Where it leads on is
 * not followed.
 *
 * @param standIn the address that stands in for it; it alone may lie within the house
 * @returns the status answered, one of 200 to 299
 * @throws TurnedAway where it will never be taken; another error where it may, later
 */
export async function sendOutside(
  address: string,
  body: string,
  standIn: string | null,
  headers: Readonly<Record<string, string>> = {},
): Promise<number> {
  return (await post(address, body, standIn, headers, { patience: PATIENCE, most: ANSWER })).status;
}

/**
 * Asks an address outside by sending it JSON, and waits for what it answers.
 *
 * @param most so many bytes of an answer at most, in so many milliseconds
 * @returns the body answered, UTF-8
 * @throws TurnedAway where it will never be taken; another error where it may, later
 */
export async function askOutside(
  address: string,
  body: string,
  standIn: string | null,
  headers: Readonly<Record<string, string>>,
  { patience, most }: Bounds,
): Promise<string> {
  const { bytes, whole } = await post(address, body, standIn, headers, { patience, most });
  if (bytes.length > most) throw new TurnedAway("it answered more than fits");
  if (!whole) throw new Error("it did not answer in time");
  return bytes.toString("utf8");
}

/** How long an answer is waited for, in milliseconds, and how many bytes of it are read. */
interface Bounds {
  patience: number;
  most: number;
}

/** What was answered, cut where it is longer than read; whether that is all of it. */
interface Answered {
  status: number;
  bytes: Buffer;
  whole: boolean;
}

/** Posts JSON. @throws TurnedAway where it will never be taken; another error where it may, later */
async function post(
  address: string,
  body: string,
  standIn: string | null,
  headers: Readonly<Record<string, string>>,
  { patience, most }: Bounds,
): Promise<Answered> {
  const closed = whyNotAddress(address, standIn);
  if (closed) throw new TurnedAway(closed);
  const within = isStandIn(address, standIn);
  const answer = await posted(within ? standIn : address, body, headers, within, { patience, most });
  if (answer.status >= 200 && answer.status < 300) return answer;
  const says = `it answered ${answer.status}`;
  // It is moved, unknown or closed to us; what is busy (RFC 6585) or broken may do later.
  if (answer.status < 500 && answer.status !== 408 && answer.status !== 429) throw new TurnedAway(says);
  throw new Error(says);
}

function posted(
  address: string,
  body: string,
  headers: Readonly<Record<string, string>>,
  within: boolean,
  { patience, most }: Bounds,
): Promise<Answered> {
  const url = new URL(address);
  const send = url.protocol === "https:" ? https.request : http.request;
  const signal = AbortSignal.timeout(patience);
  return new Promise((resolve, reject) => {
    const asked = send(
      url,
      {
        method: "POST",
        headers: { ...headers, "Content-Type": "application/json", "Content-Length": Buffer.byteLength(body) },
        signal,
        ...(!within && { lookup: outside }),
      },
      (answer) => {
        const parts: Buffer[] = [];
        let read = 0;
        const ends = () =>
          resolve({ status: answer.statusCode ?? 0, bytes: Buffer.concat(parts), whole: answer.complete });
        answer.on("data", (part: Buffer) => {
          read += part.length;
          parts.push(part);
          if (read > most) answer.destroy();
        });
        answer.on("close", ends);
        answer.on("error", ends);
      },
    );
    asked.on("error", (error) => reject(signal.aborted ? new Error("it did not answer in time") : error));
    asked.end(body);
  });
}

/** What stands at an address outside; `bytes` is null where it is as it was. */
export interface Got {
  bytes: Buffer | null;
  type: string | null;
  etag: string | null;
  modified: string | null;
}

/** So often an address may lead on to another. */
const LEADS = 3;

/**
 * Fetches what stands at an address outside, if it is another than before. Wherever it leads on, that lies outside
 * too; more than it may hold, or takes, is not waited for.
 *
 * @param known what was said of its state last (RFC 9110)
 * @param most so many bytes at most
 * @throws an error that says why not
 */
export async function fetchOutside(
  address: string,
  standIn: string | null,
  known: { etag: string | null; modified: string | null },
  most: number,
): Promise<Got> {
  const headers = {
    ...(known.etag && { "If-None-Match": known.etag }),
    ...(known.modified && { "If-Modified-Since": known.modified }),
    "User-Agent": "Elenco",
  };
  const signal = AbortSignal.timeout(PATIENCE);
  let at = isStandIn(address, standIn) ? standIn : address;
  for (let led = 0; led <= LEADS; led++) {
    const closed = whyNotAddress(at, standIn);
    if (closed) throw new TurnedAway(closed);
    const answer = await get(at, headers, at === standIn, signal, most);
    if (answer.leads === null) return answer.got;
    if (!URL.canParse(answer.leads, at)) throw new Error("it leads nowhere");
    at = new URL(answer.leads, at).href;
  }
  throw new Error("it leads on and on");
}

function get(
  address: string,
  headers: Readonly<Record<string, string>>,
  within: boolean,
  signal: AbortSignal,
  most: number,
): Promise<{ leads: string | null; got: Got }> {
  const url = new URL(address);
  const ask = url.protocol === "https:" ? https.get : http.get;
  return new Promise((resolve, reject) => {
    const asked = ask(url, { headers, signal, ...(!within && { lookup: outside }) }, (answer) => {
      const { statusCode: status = 0, headers: said } = answer;
      const parts: Buffer[] = [];
      let size = 0;
      const got = (bytes: Buffer | null): Got => ({
        bytes,
        type: said["content-type"] ?? null,
        etag: said.etag?.slice(0, 300) ?? null,
        modified: said["last-modified"]?.slice(0, 100) ?? null,
      });
      const ends = (leads: string | null, bytes: Buffer | null) => {
        answer.destroy();
        resolve({ leads, got: got(bytes) });
      };
      if (status === 304) return ends(null, null);
      if (status >= 300 && status < 400 && said.location) return ends(said.location, null);
      if (status !== 200) {
        answer.destroy();
        return reject(new Error(`it answered ${status}`));
      }
      answer.on("data", (part: Buffer) => {
        size += part.length;
        parts.push(part);
        if (size <= most) return;
        answer.destroy();
        reject(new Error(`it is larger than ${Math.floor(most / 1_000_000)} MB`));
      });
      answer.on("end", () => resolve({ leads: null, got: got(Buffer.concat(parts)) }));
      answer.on("error", reject);
    });
    asked.on("error", (error) => reject(signal.aborted ? new Error("it did not answer in time") : error));
  });
}
