import { randomBytes, randomUUID } from "node:crypto";
import type { IncomingMessage, RequestListener } from "node:http";
import path from "node:path";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import { sql } from "drizzle-orm";
import express, { type ErrorRequestHandler, type RequestHandler } from "express";
import expressStaticGzip from "express-static-gzip";
import helmet from "helmet";
import onHeaders from "on-headers";
import type { Logger } from "pino";
import type { ServerBuild } from "react-router";
import { type Database, isDatabaseGone } from "../db/client.ts";
import { pendingMigrations } from "../db/migrate.ts";
import { secretId } from "../people/secrets.ts";
import { mayConfigure } from "../workflows/staff.ts";
import { contextOf } from "./context.ts";
import { readCookies } from "./cookies.ts";
import { drainsOnce } from "./drain.ts";
import type { Live } from "./live.ts";
import { loggedPath } from "./log.ts";
import { plainPage } from "./plain-page.ts";
import { type Answer, keepsPages, READERS_CACHE, readerPages } from "./reader-pages.ts";

/** What the web server of one node is made of. */
export interface Parts {
  db: Database;
  build: ServerBuild;
  clientFolder: string;
  baseUrl: string;
  files: string;
  /** The proxies before this node whose word on where a request comes from is taken. */
  trustProxy: string[];
  standIns: boolean;
  /** The port on which mail to the intake comes in; null where it does not. */
  mailIn: number | null;
  now(): Promise<number>;
  live: Live;
  log: Logger;
}

/** What the guards put beside a request. */
interface Locals {
  requestId: string;
  nonce: string;
}

/** What a node answers: readers' pages it keeps at once, and all else by the application. */
export function createApp(parts: Parts): RequestListener {
  const app = application(parts);
  const logged = requestLog(parts.log);
  const kept = readerPages(parts.db, parts.baseUrl);
  return (request, response) => {
    const answer: Answer = Object.assign(response, { locals: { requestId: randomUUID() } });
    logged(request, answer);
    kept(request, answer, () => app(request, response)).catch((err: unknown) => {
      parts.log.error({ requestId: answer.locals.requestId, err }, "a request failed");
      response.destroy();
    });
  };
}

/** Health, assets, the live stream, and the application behind its guards. */
function application(parts: Parts): express.Express {
  const app = express();
  app.disable("x-powered-by");
  app.set("trust proxy", parts.trustProxy);
  app.use(wellFormed);
  app.get("/healthz", (_, response) => void response.type("text").send("ok"));
  app.get("/readyz", readiness(parts.db));
  app.use(securityHeaders);
  app.use("/assets", packed(path.join(parts.clientFolder, "assets"), { immutable: true, maxAge: "1y" }));
  app.use(packed(parts.clientFolder, { maxAge: "1h" }));
  app.use(sameOrigin(parts.baseUrl));
  app.use(bodyLimit);
  app.get("/live", async (request, response) => {
    const context = await contextOf(request, response.locals as Locals, parts);
    const viewer = await context.viewer();
    const everything = request.query.of === "lines" && viewer !== null && mayConfigure(viewer, viewer.now);
    const session = secretId(context.secret ?? "");
    if (viewer) parts.live.follow({ personId: viewer.id, session, everything }, response);
    else response.status(401).type("text").send("Sign in first.");
  });
  app.get("/live/still", async (request, response) => {
    const context = await contextOf(request, response.locals as Locals, parts);
    const viewer = await context.viewer();
    response.set("Cache-Control", "no-store");
    // A page may have been drawn before its window listens: it hears whether anything happened meanwhile.
    const missed = context.ledgerEnd() > Number(request.query.since ?? Infinity);
    if (viewer) response.json({ id: viewer.seenBy?.id ?? viewer.id, missed });
    else response.status(401).json(null);
  });
  app.use(compression(), drainsOnce, keepsPages);
  app.use(cached(parts.baseUrl));
  app.use(whoAsks(parts));
  app.all(
    "/{*path}",
    createRequestHandler({ build: parts.build, getLoadContext: (_, response) => response.locals.context }),
  );
  app.use(lastResort(parts.log));
  return app;
}

/** Files as the build packed them beside themselves, for who takes them so. */
const packed = (folder: string, serveStatic: { immutable?: boolean; maxAge: string }): RequestHandler =>
  expressStaticGzip(folder, { enableBrotli: true, orderPreference: ["br"], index: false, serveStatic });

/** Numbers a request, and says in the log what became of it. */
const requestLog =
  (log: Logger) =>
  ({ url = "", method }: IncomingMessage, response: Answer): void => {
    const begun = performance.now();
    const { requestId } = response.locals;
    response.setHeader("X-Request-Id", requestId);
    response.on("finish", () => {
      if (url.startsWith("/assets/")) return;
      const took = Math.round(performance.now() - begun);
      log.info({ requestId, method, path: loggedPath(url), status: response.statusCode, took }, "request");
    });
  };

/** A request whose method, host or path nothing can be made of is turned away before anything is. */
const wellFormed: RequestHandler = (request, response, next) => {
  const { method, headers, url } = request;
  const refuse = (status: number, heading: string, sentence: string) =>
    void response
      .status(status)
      .type("html")
      .send(plainPage(heading, sentence, response.locals.requestId));
  if (!METHODS.includes(method)) return refuse(405, "This is not done here", "Pages are opened, and forms are sent.");
  if (!URL.canParse(`http://${headers.host}`)) return refuse(400, "This address is none", "Its host has no such name.");
  try {
    decodeURIComponent(url.split("?")[0] ?? "");
  } catch {
    return refuse(404, "There is no such page", "The address was not copied whole, perhaps.");
  }
  next();
};

const METHODS = ["GET", "HEAD", "POST"];

const readiness =
  (db: Database): RequestHandler =>
  async (_, response) => {
    try {
      const pending = await pendingMigrations(db);
      if (pending === 0) response.type("text").send("ready");
      else response.status(503).type("text").send(`${pending} migrations are not done yet`);
    } catch {
      response.status(503).type("text").send("the database does not answer");
    }
  };

const securityHeaders: RequestHandler = (request, response, next) => {
  const nonce = randomBytes(16).toString("base64");
  response.locals.nonce = nonce;
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", `'nonce-${nonce}'`],
        styleSrc: ["'self'", `'nonce-${nonce}'`],
        // Positions computed for menus and drawings are style attributes; they run nothing.
        styleSrcAttr: ["'unsafe-inline'"],
        imgSrc: ["'self'", "data:"],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    // With no referrer at all browsers name no origin for plain forms either, and these would be refused.
    referrerPolicy: { policy: "same-origin" },
    strictTransportSecurity: request.secure,
    // Feeds carry readers' pictures to other places.
    crossOriginResourcePolicy: { policy: request.path.startsWith("/read/") ? "cross-origin" : "same-origin" },
  })(request, response, next);
};

/**
 * A form that another site's page sends is refused: its origin must be this one. Browsers name the
 * origin of every form; what names none is a program, and passes only where it carries no session.
 */
const sameOrigin =
  (baseUrl: string): RequestHandler =>
  (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const { origin, host, cookie } = request.headers;
    if (origin === undefined && !readCookies(cookie, baseUrl).session) return next();
    if (origin !== undefined && URL.canParse(origin) && new URL(origin).host === host) return next();
    response
      .status(403)
      .type("html")
      .send(
        plainPage(
          "This form did not come from Elenco",
          "Open Elenco itself and send it from there.",
          response.locals.requestId,
        ),
      );
  };

/** What is for one person is kept by no cache. What every reader gets is asked for anew; only files are kept, for a while. */
const cached =
  (baseUrl: string): RequestHandler =>
  ({ path, headers }, response, next) => {
    // Who is signed in may be shown more in the same place.
    const own = /^\/read\/(?!feed\.)[^/]+$/.test(path) && readCookies(headers.cookie, baseUrl).session !== null;
    onHeaders(response, () => {
      const [, below] = /^\/read(\/[^/]+\/files\/|[/.]|$)/.exec(path) ?? [];
      const there = response.statusCode === 200;
      response.setHeader("Cache-Control", how(below));

      function how(within: string | undefined): string {
        if (there && response.locals.keeps !== undefined) return READERS_CACHE;
        if (within === undefined || own) return "no-store";
        return within.length > 1 ? "private, max-age=300" : "no-cache";
      }
    });
    next();
  };

const BODY_BYTES = 4_000_000;
/** Of a form without files: it is read at once, value by value. */
const FORM_BYTES = 400_000;
/** Where files are brought along. */
const FILES_BYTES = 25_000_000;
const FILES_PATH = /^\/pieces\/(new|[^/]+\/files)(\.data)?$/;
/** Where anybody may bring some along. */
const ASKED_BYTES = 10_500_000;
const ASKED_PATH = /^\/ask\/[^/]+$/;

const mostAt = (path: string) =>
  FILES_PATH.test(path) ? FILES_BYTES : ASKED_PATH.test(path) ? ASKED_BYTES : BODY_BYTES;

/** What is sent names its size beforehand, and may not exceed what any form here needs. */
const bodyLimit: RequestHandler = (request, response, next) => {
  if (request.method === "GET" || request.method === "HEAD") return next();
  const length = request.headers["content-length"];
  if (length === undefined && request.headers["transfer-encoding"] === undefined) return next();
  const plain = request.is("urlencoded") !== false;
  const most = plain ? FORM_BYTES : mostAt(request.path);
  if (length !== undefined && Number(length) <= most) return next();
  response
    .status(length === undefined ? 411 : 413)
    .set("Connection", "close")
    .type("html")
    .send(
      plainPage("That is too much at once", `At most ${most / 1_000_000} MB can be sent.`, response.locals.requestId),
    );
};

/**
 * What a request brings, and who asks: a page is not begun while the database is away, which this
 * question tells. Forms go on to their action, which keeps what was typed.
 */
const whoAsks =
  (parts: Parts): RequestHandler =>
  async (request, response, next) => {
    const context = await contextOf(request, response.locals as Locals, parts);
    response.locals.context = context;
    if (request.method === "GET") await (context.secret ? context.viewer() : parts.db.execute(sql`SELECT 1`));
    next();
  };

const lastResort =
  (log: Logger): ErrorRequestHandler =>
  (error, _, response, next) => {
    if (response.headersSent) return next(error);
    if (isDatabaseGone(error)) return unavailable(response);
    log.error({ requestId: response.locals.requestId, err: error }, "a request failed");
    response
      .status(500)
      .type("html")
      .send(
        plainPage(
          "Something is wrong on our side",
          "Nothing you saved is lost. Try again; if it stays, pass this number on:",
          response.locals.requestId,
        ),
      );
  };

function unavailable(response: express.Response): void {
  response
    .status(503)
    .set("Retry-After", "5")
    .type("html")
    .send(
      plainPage(
        "Elenco is away for a moment",
        "The database does not answer. Nothing is lost; this page asks again by itself.",
        response.locals.requestId,
        5,
      ),
    );
}
