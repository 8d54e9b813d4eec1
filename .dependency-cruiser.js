/** The direction of dependencies between packages and inside them; every rule is an error. */
const rule = (name, from, to) => ({ name, severity: "error", from, to });

export default {
  forbidden: [
    rule("no-cycle", {}, { circular: true }),
    rule(
      "only-core-store-and-stage-are-shared",
      { path: "^packages/([^/]+)/" },
      { path: "^packages/", pathNot: "^packages/($1|core|store|stage)/" },
    ),
    rule("store-knows-core-only", { path: "^packages/store/" }, { path: "^packages/(?!store/|core/)" }),
    rule("stage-knows-core-only", { path: "^packages/stage/" }, { path: "^packages/(?!stage/|core/)" }),
    rule("web-has-no-store", { path: "^packages/(web|e2e)/" }, { path: "^packages/store/" }),
    rule("core-is-a-leaf", { path: "^packages/core/" }, { path: "^packages/(?!core/)" }),
    rule("no-cross-feature", { path: "/features/([^/]+)/" }, { path: "/features/", pathNot: "/features/$1/" }),
    rule(
      "shared-web-knows-no-feature",
      { path: "^packages/web/src/(api|ui|lib)/" },
      { path: "^packages/web/src/(features|app)/" },
    ),
    rule(
      "sql-in-its-place",
      { path: "^packages/server/src", pathNot: "(-model|repository)\\.ts$|/db/|\\.test\\." },
      { path: "node_modules/sequelize" },
    ),
    // What a process imports takes memory for good: all services would take some 20 MB more.
    rule(
      "processes-of-ballots-are-small",
      { path: "(aside|counting)-child\\.ts$" },
      { path: "^packages/server/src/services\\.ts$", reachable: true },
    ),
    rule("routes-call-services", { path: "/routes\\.ts$" }, { path: "(repository|-model)\\.ts$" }),
    rule(
      "e2e-knows-the-contract-only",
      // One test runs the core itself, in a worker of the browser.
      { path: "^packages/e2e/", pathNot: "worker\\.spec\\.ts$" },
      { path: "^packages/core/", pathNot: "^packages/core/(src|dist)/(contract|errors)" },
    ),
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: "node_modules" },
    exclude: { path: "(/dist/|/exhibits/|test-results)" },
    tsConfig: { fileName: "tsconfig.test.json" },
    enhancedResolveOptions: {
      conditionNames: ["tourney-source", "import", "types", "node", "default"],
      exportsFields: ["exports"],
    },
  },
};
