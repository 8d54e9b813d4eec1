import { defineConfig } from "vitest/config";

const source = { conditions: ["tourney-source", "node"] };
/** Workspace packages are consumed from source, so that tests need no build. */
const shared = { resolve: source, ssr: { resolve: { ...source, externalConditions: ["tourney-source", "node"] } } };

export default defineConfig({
  test: {
    projects: [
      {
        ...shared,
        test: {
          name: "unit",
          include: ["packages/{core,store,stage,server,render-worker,stand-in-model,cli}/src/**/*.test.ts"],
          exclude: ["**/*.integration.test.ts", "**/node_modules/**"],
          // A property tried on a hundred cases takes seconds on a busy machine.
          testTimeout: 30_000,
        },
      },
      {
        ...shared,
        test: {
          name: "integration",
          include: ["packages/*/src/**/*.integration.test.ts"],
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
      {
        resolve: { conditions: ["tourney-source", "browser", "module"] },
        test: {
          name: "web",
          include: ["packages/web/src/**/*.test.{ts,tsx}"],
          environment: "jsdom",
          setupFiles: ["packages/web/test-support/setup.ts"],
          // Typing into a form letter by letter takes seconds on a busy machine.
          testTimeout: 30_000,
        },
      },
    ],
  },
});
