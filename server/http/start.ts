import { readConfig } from "./config.ts";
import { serve, stopOnSignal } from "./serve.ts";

/** Where `npm start` begins: starts one node, or says in one line why not. */
try {
  const config = readConfig();
  stopOnSignal(await serve(config));
  console.log(`Elenco is ready: ${config.baseUrl}`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}
