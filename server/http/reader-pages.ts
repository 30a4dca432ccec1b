import { createHash } from "node:crypto";
import type { IncomingMessage, ServerResponse } from "node:http";
import { setTimeout as pause } from "node:timers/promises";
import { gzipSync } from "node:zlib";
import type { RequestHandler, Response } from "express";
import { LRUCache } from "lru-cache";
import type { Database } from "../db/client.ts";
import { seenNow } from "../reader/seen.ts";
import { readCookies } from "./cookies.ts";

/** So many bytes of pages are kept in a node's memory. */
const KEPT = 64_000_000;
/** So long a page that is being made anew is still shown as it was, in milliseconds; from then on one waits for it. */
const LAGS = 300;
/** So long one waits for a page that is being made for somebody else, in milliseconds: who reads slowly holds nobody up. */
const WAITS = 1_000;
/** How long anybody may keep a page, and show it while asking for a newer one, in seconds. */
export const READERS_CACHE = "public, max-age=5, stale-while-revalidate=60";
/** Readers' pages and feeds; not their files, which are kept by their own address. */
const READERS = /^\/(read(\/(?!.*\/files\/).*)?|robots\.txt)$/;
/** The only words of an address that make another page. */
const WORDS = new Set(["after"]);
const OWN_HEADERS = new Set([
  "x-request-id",
  "date",
  "connection",
  "keep-alive",
  "transfer-encoding",
  "content-length",
  "content-encoding",
  "set-cookie",
  "cache-control",
  "etag",
  "vary",
]);

interface Page {
  /** The number of what readers saw when it was made; the time it was made, epoch milliseconds. */
  number: number;
  at: number;
  status: number;
  headers: Record<string, string>;
  etag: string;
  body: Buffer;
  packed: Buffer;
}

/**
 * Readers' pages out of the node's memory, made anew once anything readers see has changed: by the first who
 * asks, however many do meanwhile. Who is signed in to the workshop is shown more, and is answered by the
 * application itself.
 */
export function readerPages(db: Database, baseUrl: string) {
  const pages = new LRUCache<string, Page>({
    maxSize: KEPT,
    sizeCalculation: ({ body, packed }) => body.length + packed.length + 500,
  });
  /** What is being made, and since when. */
  const making = new Map<string, { since: number; made: Promise<void> }>();
  return async (request: IncomingMessage, response: Answer, next: () => void): Promise<void> => {
    const { method, url = "", headers } = request;
    const key = (method === "GET" || method === "HEAD") && keyOf(url);
    if (!key || readCookies(headers.cookie, baseUrl).session !== null) return next();
    const seen = await seenNow(db).catch(() => null);
    const page = pages.get(key);
    // Without the database what was kept is still what readers saw last.
    if (page && (seen === null || page.number === seen.number)) return send(page, request, response);
    const under = making.get(key);
    const lasts = under ? performance.now() - under.since : WAITS;
    if (under && lasts < WAITS) {
      if (page && lasts < LAGS) return send(page, request, response);
      await Promise.race([under.made, pause(WAITS - lasts)]);
      const made = pages.get(key);
      return made && made !== page ? send(made, request, response) : next();
    }
    if (seen !== null && method === "GET") {
      const made = new Promise<void>((done) => {
        response.once("close", () => {
          if (making.get(key)?.made === made) making.delete(key);
          // What is there no more, or could not be made, is not shown as it was.
          if (pages.get(key) === page) pages.delete(key);
          done();
        });
      });
      making.set(key, { since: performance.now(), made });
      response.locals.keeps = (made) => {
        const at = Date.now();
        pages.set(key, { ...made, headers: { ...made.headers, ...cachedBy(made.etag, at) }, number: seen.number, at });
      };
    }
    next();
  };
}

/** By what a page is kept; null for what is none, or names anything that would make another. */
function keyOf(url: string): string | null {
  const [path = "", asked = ""] = url.split("?", 2);
  if (!READERS.test(path) || path.endsWith(".data")) return null;
  const words = [...new URLSearchParams(asked)];
  return words.every(([word]) => WORDS.has(word)) && words.length <= WORDS.size
    ? `${path}?${words.map(([, value]) => value).join()}`
    : null;
}

function send(
  { at, status, headers, etag, body, packed }: Page,
  { method, headers: asked }: IncomingMessage,
  response: Answer,
): void {
  const since = Date.parse(String(asked["if-modified-since"] ?? ""));
  const tags = asked["if-none-match"];
  const same = tags === undefined ? Math.floor(at / 1000) * 1000 <= since : String(tags).split(/,\s*/).includes(etag);
  if (same && status === 200) return void response.writeHead(304, headers).end();
  const packs = /\bgzip\b/.test(String(asked["accept-encoding"] ?? ""));
  const sent = packs ? packed : body;
  response.writeHead(status, {
    ...headers,
    ...(packs && { "Content-Encoding": "gzip" }),
    "Content-Length": sent.length,
  });
  response.end(method === "HEAD" ? undefined : sent);
}

type Made = Omit<Page, "number" | "at">;

/** An answer with what is known of its request; `keeps` takes a page that is to be kept. */
export type Answer = ServerResponse & { locals: { requestId: string; keeps?: (made: Made) => void } };

/** What is sent with a page of that time, beside what it was made with. */
const cachedBy = (etag: string, at: number) => ({
  "Cache-Control": READERS_CACHE,
  ETag: etag,
  "Last-Modified": new Date(at).toUTCString(),
  Vary: "Accept-Encoding",
});

/** Keeps a copy of a page that is to be kept, as it was before it was packed; only what is there, or gone for good. */
export const keepsPages: RequestHandler = (_, response, next) => {
  const made = (response.locals as Answer["locals"]).keeps;
  if (made) keep(response, made);
  next();
};

function keep(response: Response, made: (page: Made) => void): void {
  const chunks: Buffer[] = [];
  const [write, end] = [response.write.bind(response), response.end.bind(response)];
  const note = (chunk: unknown, encoding?: unknown) => {
    if (chunk && typeof chunk !== "function")
      chunks.push(
        typeof chunk === "string"
          ? Buffer.from(chunk, typeof encoding === "string" ? (encoding as BufferEncoding) : "utf8")
          : Buffer.from(chunk as Uint8Array),
      );
  };
  response.write = ((chunk: unknown, ...rest: unknown[]) => {
    note(chunk, rest[0]);
    return (write as (...all: unknown[]) => boolean)(chunk, ...rest);
  }) as typeof response.write;
  response.end = ((chunk?: unknown, ...rest: unknown[]) => {
    note(chunk, rest[0]);
    return (end as (...all: unknown[]) => Response)(chunk, ...rest);
  }) as typeof response.end;
  response.on("finish", () => {
    if (response.statusCode !== 200 && response.statusCode !== 410) return;
    const body = Buffer.concat(chunks);
    const headers = Object.fromEntries(
      Object.entries(response.getHeaders()).flatMap(([name, value]) =>
        OWN_HEADERS.has(name) ? [] : [[name, String(value)]],
      ),
    );
    const etag = `"${createHash("sha256").update(body).digest("base64url").slice(0, 27)}"`;
    made({ status: response.statusCode, headers, etag, body, packed: gzipSync(body) });
  });
}
