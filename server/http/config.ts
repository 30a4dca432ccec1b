import { z } from "zod";

const address = z.url({ protocol: /^https?$/ }).transform((url) => url.replace(/\/$/, ""));

const schema = z.object({
  PORT: z.coerce.number().int().min(1).max(65535).default(4300),
  HOST: z.string().min(1).default("127.0.0.1"),
  DATABASE_URL: z.url({ protocol: /^(mysql|mariadb)$/ }),
  SESSION_SECRET: z.string().min(32, "at least 32 characters"),
  SMTP_URL: z.url({ protocol: /^smtps?$/ }).optional(),
  /** Where files are kept; on several nodes the same folder. */
  ELENCO_DATA_DIR: z.string().min(1).default(".data"),
  /** What links in mails begin with. */
  ELENCO_URL: address.optional(),
  /** Switches the stand-ins for mail and clock on; the demo does. */
  ELENCO_STANDINS: z.stringbool().default(false),
  LOG_LEVEL: z.enum(["debug", "info", "warn", "error", "silent"]).default("info"),
});

export type Config = z.infer<typeof schema> & { baseUrl: string };

/** Reads the environment. A bad value ends the process with one clear line and exit code 2. */
export function readConfig(environment: NodeJS.ProcessEnv = process.env): Config {
  const given = Object.fromEntries(Object.entries(environment).filter(([, value]) => value !== ""));
  const parsed = schema.safeParse(given);
  if (parsed.success)
    return { ...parsed.data, baseUrl: parsed.data.ELENCO_URL ?? `http://${parsed.data.HOST}:${parsed.data.PORT}` };
  const [issue] = parsed.error.issues;
  const missing = issue && !(String(issue.path[0]) in given);
  console.error(`${String(issue?.path[0])} ${missing ? "is missing" : `is not usable: ${issue?.message}`}`);
  process.exit(2);
}
