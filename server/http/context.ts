import type { Request } from "express";
import type { AppLoadContext } from "react-router";
import type { Database } from "../db/client.ts";
import { maySeeAs } from "../people/see-as.ts";
import { loadSession } from "../people/sessions.ts";
import { loadViewer, type Viewer } from "../viewer.ts";
import type { Act } from "../write.ts";

export const COOKIE = "elenco";

/** What a request brings to loaders and actions. */
export interface RequestContext {
  db: Database;
  /** For the scripts the content security policy lets through. */
  nonce: string;
  requestId: string;
  /** Epoch milliseconds; one instant for the whole request. */
  now: number;
  standIns: boolean;
  baseUrl: string;
  /** The folder in which files are kept. */
  files: string;
  /** The remote address. */
  address: string;
  /** The session cookie's secret, or null. */
  secret: string | null;
  /** The browser's name for itself. */
  agent: string;
  /** Who looks: who is signed in, or whom they see as. Asked of the database once a request. */
  viewer(): Promise<Viewer | null>;
  /** What a command needs from this request, in the name of whoever looks. Call it when `viewer` has answered. */
  act(personId: string | null, formKey?: string): Act;
}

interface Services {
  db: Database;
  baseUrl: string;
  files: string;
  standIns: boolean;
  now(): Promise<number>;
}

/** Gathers what a request brings. @throws when the database does not answer */
export async function contextOf(
  request: Request,
  requestId: string,
  nonce: string,
  services: Services,
): Promise<AppLoadContext> {
  const { db, baseUrl, files, standIns } = services;
  const now = await services.now();
  const secret = cookieOf(request.headers.cookie);
  const address = request.ip ?? "unknown";
  let viewer: Promise<Viewer | null> | undefined;
  let seeingAs: string | undefined;
  return {
    db,
    nonce,
    requestId,
    now,
    standIns,
    baseUrl,
    files,
    address,
    secret,
    agent: (request.headers["user-agent"] ?? "").slice(0, 200),
    viewer: () => {
      viewer ??= whoAsks(db, secret, now).then((found) => {
        seeingAs = found?.seenBy ? found.name : undefined;
        return found;
      });
      return viewer;
    },
    act: (personId, formKey) => ({ db, personId, now, origin: address, requestId, formKey, baseUrl, files, seeingAs }),
  };
}

async function whoAsks(db: Database, secret: string | null, now: number): Promise<Viewer | null> {
  const session = secret ? await loadSession(db, secret, now) : null;
  if (!session) return null;
  const self = await loadViewer(db, session.personId, now);
  if (!self || !session.seeingAsId || !maySeeAs(self, now)) return self;
  const seen = await loadViewer(db, session.seeingAsId, now);
  return seen && { ...seen, seenBy: { id: self.id, name: self.name } };
}

function cookieOf(header: string | undefined): string | null {
  const pair = header?.split(/;\s*/).find((part) => part.startsWith(`${COOKIE}=`));
  return pair?.slice(COOKIE.length + 1) || null;
}

declare module "react-router" {
  interface AppLoadContext extends RequestContext {}
}
