/** Dependencies point one way: app → server → core, cli → server → core, workers → core. */
const only = (name, from, allowed) => ({
  name,
  severity: "error",
  from: { path: from },
  to: { path: "^(app|core|server|cli|demo|scripts|bench|tests)/", pathNot: allowed },
});

/** Rooms one above another: each may look into those below it, never up. */
const floors = (house, rooms) =>
  rooms.slice(0, -1).map((room, i) => ({
    name: `${house}-${room}-looks-down`,
    severity: "error",
    from: { path: `^${house}/${room}/`, pathNot: "\\.test\\.ts$" },
    to: { path: `^${house}/(${rooms.slice(i + 1).join("|")})/` },
  }));

module.exports = {
  forbidden: [
    ...floors("core", [
      "words",
      "time",
      "text",
      "sections",
      "people",
      "workflow",
      "rules",
      "review",
      "passage",
      "rehearsal",
      "access",
      "assist",
      "release",
      "intake",
      "ledger",
      "remarks",
      "telling",
      "events",
    ]),
    ...floors("server", [
      "db",
      "tasks",
      "access",
      "piece",
      "review",
      "release",
      "remarks",
      "passage",
      "workflows",
      "assist",
      "pieces",
      "editions",
      "schedule",
      "intake",
      "rules",
      "guests",
      "jobs",
      "http",
    ]),
    only("core-imports-core", "^core/", "^core/"),
    only("server-imports-core", "^server/", "^(server|core)/"),
    only("app-imports-server-and-core", "^app/", "^(app|server|core)/"),
    only("ui-imports-nothing-of-ours", "^app/ui/", "^app/ui/"),
    {
      name: "primitives-are-dressed-once",
      severity: "error",
      from: { path: "^app/", pathNot: "^app/ui/" },
      to: { path: "^node_modules/(radix-ui|@radix-ui|@dnd-kit|downshift|react-day-picker)(/|$)" },
    },
    only("workers-import-core", "^app/workers/", "^(app/workers|core)/"),
    only("cli-imports-server-and-core", "^cli/", "^(cli|server|core)/"),
    {
      name: "core-touches-no-machine",
      severity: "error",
      from: { path: "^core/", pathNot: "(\\.test|/samples)\\.ts$" },
      to: { dependencyTypes: ["core"] },
    },
    {
      name: "core-uses-few-packages",
      severity: "error",
      from: { path: "^core/", pathNot: "(\\.test|/samples)\\.ts$" },
      to: {
        path: "^node_modules/",
        pathNot:
          "^node_modules/(zod|temporal-polyfill|@noble/hashes|canonicalize|prosemirror-(model|markdown)|@?markdown-it|@types/markdown-it|orderedmap|saxes|xmlchars|diff|node-diff3|parse5|@types/mustache|mustache)(/|$)",
      },
    },
    {
      name: "views-load-nothing",
      comment: "A view is given plain data: from the server it may take types only.",
      severity: "error",
      from: { path: "^app/(views|ui)/" },
      to: {
        path: "^(server/|app/(request|browser|guest|file-answer|away-form|grant-form|piece-desk)\\.ts)",
        dependencyTypesNot: ["type-only"],
      },
    },
    {
      name: "no-circles",
      severity: "error",
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } },
    },
  ],
  options: {
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    doNotFollow: { path: "node_modules" },
    enhancedResolveOptions: {
      extensions: [".ts", ".tsx", ".js"],
      exportsFields: ["exports"],
      conditionNames: ["import", "node", "default"],
    },
  },
};
