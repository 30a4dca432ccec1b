import { existsSync } from "node:fs";
import { readConfig } from "#server/http/config.ts";
import { serve, stopOnSignal } from "#server/http/serve.ts";
import { build } from "./build.ts";

try {
  const config = readConfig();
  if (!existsSync("build/server/index.js")) build();
  stopOnSignal(await serve(config));
  console.log(`Elenco is ready: ${config.baseUrl}`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}
