import { z } from "zod";
import { isLoopback } from "../jobs/mail.ts";

const address = z.url({ protocol: /^https?$/ }).transform((url) => url.replace(/\/$/, ""));

const proxy = z.union([z.enum(["loopback", "linklocal", "uniquelocal"]), z.ipv4(), z.ipv6(), z.cidrv4(), z.cidrv6()]);

const schema = z.object({
  PORT: z.coerce.number().int().min(1).max(65535).default(4300),
  HOST: z.string().min(1).default("127.0.0.1"),
  DATABASE_URL: z.url({ protocol: /^(mysql|mariadb)$/ }),
  SESSION_SECRET: z.string().min(32, "at least 32 characters"),
  SMTP_URL: z.url({ protocol: /^smtps?$/ }).optional(),
  /** Where mail to the intake comes in; none where it is left out, any free port where it is 0. */
  MAIL_IN_PORT: z.coerce.number().int().min(0).max(65535).optional(),
  MAIL_IN_HOST: z.string().min(1).default("127.0.0.1"),
  /** Where files are kept; on several nodes the same folder. */
  ELENCO_DATA_DIR: z.string().min(1).default(".data"),
  /** What links in mails begin with. */
  ELENCO_URL: address.optional(),
  /** Switches the stand-ins for mail and clock on; the demo does. */
  ELENCO_STANDINS: z.stringbool().default(false),
  /** The proxies before this node, whose word on where a request comes from is taken; without any, nobody's. */
  TRUST_PROXY: z
    .string()
    .default("")
    .transform((list) => list.split(/[\s,]+/).filter(Boolean))
    .refine(
      (list) => list.every((one) => proxy.safeParse(one).success),
      "addresses and networks such as 10.0.0.0/8, or loopback, with commas between",
    ),
  LOG_LEVEL: z.enum(["debug", "info", "warn", "error", "silent"]).default("info"),
});

/** What of the configuration may not be reached from elsewhere while the stand-ins are on. */
function beyondThisMachine({ HOST, MAIL_IN_HOST, DATABASE_URL, SMTP_URL }: z.infer<typeof schema>): string | undefined {
  const hosts = {
    HOST,
    MAIL_IN_HOST,
    DATABASE_URL: new URL(DATABASE_URL).hostname,
    SMTP_URL: SMTP_URL && new URL(SMTP_URL).hostname,
  };
  return Object.entries(hosts).find(([, host]) => host && !isLoopback(host))?.[0];
}

export type Config = z.infer<typeof schema> & { baseUrl: string };

/** Reads the environment. A bad value ends the process with one clear line and exit code 2. */
export function readConfig(environment: NodeJS.ProcessEnv = process.env): Config {
  const given = Object.fromEntries(Object.entries(environment).filter(([, value]) => value !== ""));
  const parsed = schema.safeParse(given);
  const beyond = parsed.success && parsed.data.ELENCO_STANDINS && beyondThisMachine(parsed.data);
  if (beyond) {
    console.error(
      `ELENCO_STANDINS is not usable: ${beyond} is not loopback, and with stand-ins anybody may sign in as anybody`,
    );
    process.exit(2);
  }
  if (parsed.success)
    return { ...parsed.data, baseUrl: parsed.data.ELENCO_URL ?? `http://${parsed.data.HOST}:${parsed.data.PORT}` };
  const [issue] = parsed.error.issues;
  const missing = issue && !(String(issue.path[0]) in given);
  console.error(`${String(issue?.path[0])} ${missing ? "is missing" : `is not usable: ${issue?.message}`}`);
  process.exit(2);
}
