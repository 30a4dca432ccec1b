import { buildSync } from "esbuild";

/**
 * Bundles what starts a node, and what starts one of its threads, into `build/server`: started from its sources a
 * node takes more than twice the work, and a thread nearly three times. Takes less than a second.
 */
export function bundle(): void {
  buildSync({
    entryPoints: { node: "server/http/start.ts", thread: "server/apart/thread.ts" },
    outdir: "build/server",
    bundle: true,
    // Whole packages are left where they are: some find files of theirs beside them.
    packages: "external",
    platform: "node",
    format: "esm",
    target: "node20",
    logLevel: "warning",
  });
}
