import { defineConfig } from "@playwright/test";

const isRoot = process.getuid?.() === 0;

export default defineConfig({
  testDir: "src",
  testMatch: "*.spec.ts",
  outputDir: "../../.tourney/reports/e2e-traces",
  timeout: 120_000,
  expect: { timeout: 15_000 },
  fullyParallel: false,
  workers: 1,
  forbidOnly: process.env["CI"] !== undefined,
  reporter: [
    ["list"],
    ["json", { outputFile: process.env["TOURNEY_E2E_REPORT"] ?? "../../.tourney/reports/e2e.json" }],
  ],
  use: {
    baseURL: process.env["TOURNEY_E2E_APP"],
    viewport: { width: 1280, height: 800 },
    trace: "retain-on-failure",
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        // Chromium refuses its own sandbox to root. The pages under test are sandboxed frames all the same.
        ...(isRoot ? ["--no-sandbox"] : []),
      ],
    },
  },
});
