import { createHash } from "node:crypto";
import { gzipSync } from "node:zlib";
import type { RequestHandler, Response } from "express";
import { LRUCache } from "lru-cache";
import type { Database } from "../db/client.ts";
import { seenNow } from "../reader/seen.ts";
import { readCookies } from "./cookies.ts";

/** So many bytes of pages are kept in a node's memory. */
const KEPT = 64_000_000;
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
 * Readers' pages out of the node's memory, made anew once anything readers see has changed. Who is signed in to
 * the workshop is shown more, and is answered by the application itself.
 */
export function readerPages(db: Database, baseUrl: string): RequestHandler {
  const pages = new LRUCache<string, Page>({
    maxSize: KEPT,
    sizeCalculation: ({ body, packed }) => body.length + packed.length + 500,
  });
  return async (request, response, next) => {
    const { method, path, query, headers } = request;
    const reads = method === "GET" || method === "HEAD";
    const known = Object.entries(query).every(([word, value]) => WORDS.has(word) && typeof value === "string");
    if (!reads || !READERS.test(path) || path.endsWith(".data") || !known) return next();
    if (readCookies(headers.cookie, baseUrl).session !== null) return next();
    const seen = await seenNow(db).catch(() => null);
    // Without the database what was kept is still what readers saw last.
    const key = `${path}?${String(query.after ?? "")}`;
    const page = pages.get(key);
    if (page && (seen === null || page.number === seen.number)) return send(page, request.headers, method, response);
    if (seen !== null && method === "GET")
      response.locals.keeps = (made: Made) => pages.set(key, { ...made, number: seen.number, at: Date.now() });
    next();
  };
}

function send(
  page: Page,
  headers: Record<string, string | string[] | undefined>,
  method: string,
  response: Response,
): void {
  const modified = new Date(page.at).toUTCString();
  response.set({
    ...page.headers,
    "Cache-Control": READERS_CACHE,
    ETag: page.etag,
    "Last-Modified": modified,
    Vary: "Accept-Encoding",
  });
  const since = Date.parse(String(headers["if-modified-since"] ?? ""));
  const tags = headers["if-none-match"];
  const same =
    tags === undefined ? Math.floor(page.at / 1000) * 1000 <= since : String(tags).split(/,\s*/).includes(page.etag);
  if (same && page.status === 200) return void response.status(304).end();
  const packs = /\bgzip\b/.test(String(headers["accept-encoding"] ?? ""));
  if (packs) response.set("Content-Encoding", "gzip");
  const body = packs ? page.packed : page.body;
  response.status(page.status).set("Content-Length", String(body.length));
  response.end(method === "HEAD" ? undefined : body);
}

type Made = Omit<Page, "number" | "at">;

/** Keeps a copy of a page that is to be kept, as it was before it was packed; only what is there, or gone for good. */
export const keepsPages: RequestHandler = (_, response, next) => {
  const made = response.locals.keeps as ((page: Made) => void) | undefined;
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
