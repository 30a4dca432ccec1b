import pino, { type Logger, stdSerializers } from "pino";
import { failedStatement } from "../db/client.ts";

/** The node's log. Of a failed query it tells the code and the statement, never the values that stood in it. */
export const createLog = (level: string): Logger =>
  pino({
    level,
    redact: ["req.headers.cookie"],
    serializers: { err: (error: Error) => failedStatement(error) ?? stdSerializers.err(error) },
  });

/** Addresses that open something by themselves: what follows stays out of the log. */
const SECRET = /^\/(open|first|guest|forgot|calendar)(\/|$)/;

/** A path as it is logged: without the secret it may hold, however that is spelt. */
export function loggedPath(path: string): string {
  let plain: string;
  try {
    plain = decodeURIComponent(path);
  } catch {
    return "(unreadable)";
  }
  const [, place] = SECRET.exec(plain.replace(/[/\\]+/g, "/").toLowerCase()) ?? [];
  return place ? `/${place}/…` : path;
}
