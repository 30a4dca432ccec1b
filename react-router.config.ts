import type { Config } from "@react-router/dev/config";

export default {
  ssr: true,
  appDirectory: "app",
  // A page knows all routes from the first: one who goes on while it still learned of them, as something live asked
  // for the page anew, stayed where they were.
  routeDiscovery: { mode: "initial" },
} satisfies Config;
