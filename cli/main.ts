import { Unusable } from "./input.ts";

const USAGE = `elenco anchor --before FILE --after FILE --marks FILE
elenco check WORKFLOW --people PEOPLE
elenco convert FILE --to json|scxml|mermaid
elenco due --calendar FILE --from INSTANT --take TAKE [--backward]
elenco due --calendar FILE --batch FILE
elenco flow STAYS --calendar FILE
elenco forecast FILE --calendar FILE
elenco plan --workflow FILE --calendar FILE --publish INSTANT [--at STATE --since INSTANT --now INSTANT]
elenco rules FILE --people PEOPLE --workflow FILE …
elenco spread FILE
elenco verify
elenco window --windows FILE --from INSTANT
elenco window --windows FILE --batch FILE
elenco backup FILE
elenco restore FILE
  --json prints one JSON value; FILE may be - for standard input`;

/** Each brings its own modules: converting a file need not wait for a database's client. */
const COMMANDS: Record<string, () => Promise<(rest: string[]) => Promise<number>>> = {
  anchor: async () => (await import("./anchor.ts")).anchorCommand,
  backup: async () => (await import("./backup.ts")).backupCommand,
  check: async () => (await import("./check.ts")).checkCommand,
  convert: async () => (await import("./convert.ts")).convertCommand,
  due: async () => (await import("./due.ts")).dueCommand,
  flow: async () => (await import("./flow.ts")).flowCommand,
  forecast: async () => (await import("./flow.ts")).forecastCommand,
  plan: async () => (await import("./plan.ts")).planCommand,
  restore: async () => (await import("./backup.ts")).restoreCommand,
  rules: async () => (await import("./rules.ts")).rulesCommand,
  spread: async () => (await import("./spread.ts")).spreadCommand,
  verify: async () => (await import("./verify.ts")).verifyCommand,
  window: async () => (await import("./window.ts")).windowCommand,
};

/** Runs one command. @returns the exit code: 0 fine, 1 problems found, 2 unusable input */
export async function main([name, ...rest]: string[]): Promise<number> {
  if (name === "--help" || name === "help") {
    console.log(USAGE);
    return 0;
  }
  const command = Object.hasOwn(COMMANDS, name ?? "") ? COMMANDS[name ?? ""] : undefined;
  try {
    if (!command) throw new Unusable(`${name ? `There is no command "${name}"` : "Name a command"}.\n${USAGE}`);
    return await (await command())(rest);
  } catch (error) {
    const problem = error as Error & { code?: string };
    if (!(problem instanceof Unusable) && !problem.code?.startsWith("ERR_PARSE_ARGS")) throw error;
    console.error(problem.message);
    return 2;
  }
}
