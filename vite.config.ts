import path from "node:path";
import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig, type Plugin } from "vite";

/** What stands in the browser for a library the core reads by its own name; the file itself reads the library. */
const IN_THE_BROWSER: Readonly<Record<string, string>> = {
  "temporal-polyfill": path.resolve("app/browser/temporal.ts"),
  zod: path.resolve("app/browser/zod.ts"),
};

const inTheBrowser: Plugin = {
  name: "in-the-browser",
  enforce: "pre",
  applyToEnvironment: ({ name }) => name === "client",
  resolveId(source, importer) {
    const file = IN_THE_BROWSER[source];
    return file === importer ? null : file;
  },
};

export default defineConfig({
  plugins: [inTheBrowser, tailwindcss(), reactRouter()],
  worker: { format: "es", plugins: () => [inTheBrowser] },
  build: { assetsInlineLimit: 0 },
});
