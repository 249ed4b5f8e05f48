/**
 * The arrows between the layers. core knows only core; ui never the server; only server/db speaks
 * to a database.
 */
module.exports = {
  forbidden: [
    {
      name: "core-is-pure",
      severity: "error",
      from: { path: "^src/core", pathNot: "\\.test\\.ts$" },
      to: {
        path: "^(src/(server|ui|app|demo)|node_modules/(react|next|drizzle-orm|pg|@electric-sql)/)|^(fs|path|crypto|http|child_process)$",
      },
    },
    {
      name: "core-has-no-node",
      severity: "error",
      from: { path: "^src/core", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["core"] },
    },
    {
      name: "ui-without-server",
      severity: "error",
      from: { path: "^src/ui", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/(server|demo)" },
    },
    {
      name: "server-without-screens",
      severity: "error",
      from: { path: "^src/server", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/(ui|app|demo)" },
    },
    {
      name: "only-db-opens-databases",
      severity: "error",
      from: { path: "^src", pathNot: "^src/server/db" },
      to: { path: "node_modules/(pg|@electric-sql/pglite)/" },
    },
    {
      name: "doors-of-core",
      comment: "areas of core reach each other through their index",
      severity: "error",
      from: { path: "^src/core/([^/]+)/", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/core/[^/]+/", pathNot: ["^src/core/$1/", "/index\\.ts$"] },
    },
    {
      name: "doors-of-server",
      comment:
        "areas of the server reach each other through their index; access and ledger may read periods and masters directly, which organisation's index would turn into a circle",
      severity: "error",
      from: { path: "^src/server/([^/]+)/", pathNot: "\\.test\\.ts$" },
      to: {
        path: "^src/server/[^/]+/",
        pathNot: [
          "^src/server/$1/",
          "/index\\.ts$",
          "^src/server/organisation/(masters|periods)\\.ts$",
          "^src/server/access/useCase\\.ts$",
          "^src/server/db/folderLock\\.ts$",
        ],
      },
    },
  ],
  options: {
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: false,
    doNotFollow: { path: "node_modules" },
    enhancedResolveOptions: { extensions: [".ts", ".tsx", ".mjs", ".js"] },
  },
};
