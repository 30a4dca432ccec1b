import type { Request } from "express";
import type { AppLoadContext } from "react-router";
import type { Database } from "../db/client.ts";
import { personOfSession } from "../people/sign-in.ts";
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
  /** The remote address. */
  address: string;
  /** The session cookie's secret, or null. */
  secret: string | null;
  /** Who is signed in; asked of the database once a request. */
  viewer(): Promise<Viewer | null>;
  /** What a command needs from this request. */
  act(personId: string | null, formKey?: string): Act;
}

interface Services {
  db: Database;
  baseUrl: string;
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
  const { db, baseUrl, standIns } = services;
  const now = await services.now();
  const secret = cookieOf(request.headers.cookie);
  const address = request.ip ?? "unknown";
  let viewer: Promise<Viewer | null> | undefined;
  return {
    db,
    nonce,
    requestId,
    now,
    standIns,
    baseUrl,
    address,
    secret,
    viewer: () => {
      viewer ??= whoAsks(db, secret, now);
      return viewer;
    },
    act: (personId, formKey) => ({ db, personId, now, origin: address, requestId, formKey, baseUrl }),
  };
}

async function whoAsks(db: Database, secret: string | null, now: number): Promise<Viewer | null> {
  const personId = secret ? await personOfSession(db, secret, now) : null;
  return personId ? loadViewer(db, personId, now) : null;
}

function cookieOf(header: string | undefined): string | null {
  const pair = header?.split(/;\s*/).find((part) => part.startsWith(`${COOKIE}=`));
  return pair?.slice(COOKIE.length + 1) || null;
}

declare module "react-router" {
  interface AppLoadContext extends RequestContext {}
}
