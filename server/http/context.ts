import { isIP } from "node:net";
import type { Request } from "express";
import type { AppLoadContext } from "react-router";
import { demandsSecondFactor } from "../access/holders.ts";
import type { Database } from "../db/client.ts";
import { houseAt } from "../house.ts";
import { maySeeAs } from "../people/see-as.ts";
import { loadSession } from "../people/sessions.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";
import { readCookies } from "./cookies.ts";

/** What a request brings to loaders and actions. */
export interface RequestContext {
  db: Database;
  /** For the scripts the content security policy lets through. */
  nonce: string;
  requestId: string;
  /** Epoch milliseconds; one instant for the whole request. */
  now: number;
  standIns: boolean;
  /** The port on which mail to the intake comes in; null where it does not. */
  mailIn: number | null;
  baseUrl: string;
  /** The folder in which files are kept. */
  files: string;
  /** The remote address. */
  address: string;
  /** The session cookie's secret, or null. */
  secret: string | null;
  /** What this browser is known by to who signed in with it, or null. */
  browserToken: string | null;
  /** What lets a requester in who has no account, or null. */
  asked: string | null;
  /** The browser's name for itself. */
  agent: string;
  /** Who looks: who is signed in, or whom they see as. Asked of the database once a request. */
  viewer(): Promise<Viewer | null>;
  /** Where the ledger ended before anything was read for this request. Call it when `viewer` has answered. */
  ledgerEnd(): number;
  /** What a command needs from this request, in the name of whoever looks. Call it when `viewer` has answered. */
  act(personId: string | null, formKey?: string): Act;
}

interface Services {
  db: Database;
  baseUrl: string;
  files: string;
  standIns: boolean;
  mailIn: number | null;
  now(): Promise<number>;
}

/** Gathers what a request brings. @throws when the database does not answer */
export async function contextOf(
  request: Request,
  { requestId, nonce = "" }: { requestId: string; nonce?: string },
  services: Services,
): Promise<AppLoadContext> {
  const { db, baseUrl, files, standIns, mailIn } = services;
  const now = await services.now();
  const { session: secret, browser: browserToken, asked } = readCookies(request.headers.cookie, baseUrl);
  const address = isIP(request.ip ?? "") ? (request.ip as string) : (request.socket.remoteAddress ?? "unknown");
  let viewer: Promise<Viewer | null> | undefined;
  let end = 0;
  let seeingAs: string | undefined;
  let proven = false;
  return {
    db,
    nonce,
    requestId,
    now,
    standIns,
    mailIn,
    baseUrl,
    files,
    address,
    secret,
    browserToken,
    asked,
    agent: (request.headers["user-agent"] ?? "").slice(0, 200),
    ledgerEnd: () => end,
    viewer: () => {
      viewer ??= whoAsks(db, secret, now).then((asks) => {
        end = asks?.end ?? 0;
        seeingAs = asks?.viewer?.seenBy ? asks.viewer.name : undefined;
        proven = asks?.proven === true;
        return asks?.viewer ?? null;
      });
      return viewer;
    },
    act: (personId, formKey) => ({
      db,
      personId,
      now,
      origin: address,
      requestId,
      formKey,
      baseUrl,
      files,
      seeingAs,
      proven,
    }),
  };
}

/** Who asks, and whether they proved lately who they are; null for nobody, and for who lacks a second factor a role demands. */
async function whoAsks(db: Database, secret: string | null, now: number) {
  const session = secret ? await loadSession(db, secret, now) : null;
  if (!session) return null;
  const { proven, end } = session;
  const house = houseAt(db, end);
  const self = await loadViewer(db, session.personId, now, house);
  if (!self || (!session.factor && demandsSecondFactor(self, now))) return null;
  if (!session.seeingAsId || !maySeeAs(self, now)) return { viewer: self, proven, end };
  const seen = await loadViewer(db, session.seeingAsId, now, house);
  // Reads are kept for somebody's grants as they are: looked through, they are others.
  return { viewer: seen && { ...seen, grants: [...seen.grants], seenBy: self }, proven, end };
}

declare module "react-router" {
  interface AppLoadContext extends RequestContext {}
}
