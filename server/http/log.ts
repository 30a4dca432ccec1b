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
const SECRET = /^\/(open|first|guest|forgot|asked|calendar)(\/|$)/;

/** What a request asks for as it is logged: its path alone, without the secret that may be in it, however it is spelt. */
export function loggedPath(target: string): string {
  // A request may name the host before the path.
  const path = target.replace(/^[a-z][a-z\d+.-]*:\/\/[^/?#\\]*/i, "").split(/[?#]/, 1)[0] ?? "";
  let plain: string;
  try {
    plain = decodeURIComponent(path);
  } catch {
    return "(unreadable)";
  }
  const [, place] = SECRET.exec(plain.replace(/[/\\]+/g, "/").toLowerCase()) ?? [];
  return place ? `/${place}/…` : path;
}
