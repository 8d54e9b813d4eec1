import { describe, expect, it } from "vitest";
import { createRandom } from "../random.js";
import { computeCostUsd, composeRequestText, parseRetryAfterMs, planRetryMs } from "./index.js";

const POLICY = { maxAttempts: 4, firstDelayMs: 1000, longestDelayMs: 3000 };

describe("planRetryMs", () => {
  it("doubles the wait with jitter up to its longest, then gives up", () => {
    const random = createRandom(1);
    const waits = [1, 2, 3, 4].map((attempts) =>
      planRetryMs({ cause: "server_error", attempts, retryAfterMs: null }, POLICY, random),
    );
    [1000, 2000, 3000].forEach((most, i) => {
      expect(waits[i]).toBeLessThanOrEqual(most);
      expect(waits[i]).toBeGreaterThanOrEqual(most / 2);
    });
    expect(waits[3]).toBeNull();
  });
  it("waits as long as the endpoint asks", () => {
    expect(planRetryMs({ cause: "rate_limited", attempts: 1, retryAfterMs: 9000 }, POLICY, createRandom(1))).toBe(9000);
  });
  it.each(["unauthorized", "bad_request", "key_missing", "bad_response"] as const)(
    "does not repeat what would fail the same way: %s",
    (cause) => {
      expect(planRetryMs({ cause, attempts: 1, retryAfterMs: null }, POLICY, createRandom(1))).toBeNull();
    },
  );
});

describe("parseRetryAfterMs", () => {
  it("reads seconds and dates, and nothing else", () => {
    const now = Date.parse("2026-01-01T00:00:00Z");
    expect(parseRetryAfterMs("2", now)).toBe(2000);
    expect(parseRetryAfterMs("Thu, 01 Jan 2026 00:00:30 GMT", now)).toBe(30_000);
    expect(parseRetryAfterMs("soon", now)).toBeNull();
    expect(parseRetryAfterMs(null, now)).toBeNull();
  });
});

describe("computeCostUsd", () => {
  it("prices a million tokens, and knows when it does not know", () => {
    expect(computeCostUsd({ inputTokens: 1000, outputTokens: 2000 }, { input: 3, output: 15 })).toBeCloseTo(0.033, 12);
    expect(computeCostUsd({ inputTokens: null, outputTokens: 2000 }, { input: 3, output: 15 })).toBeNull();
    expect(computeCostUsd({ inputTokens: 1, outputTokens: 1 }, null)).toBeNull();
  });
});

describe("composeRequestText", () => {
  it("puts the rules into words after the prompt's own text", () => {
    const text = composeRequestText({
      text: "Draw.\n",
      kind: "drawing",
      viewport: { width: 640, height: 480 },
      rules: { singleFile: true, libraries: ["three"], framework: "allowed" },
    });
    expect(text).toMatch(/^Draw\.\n\n/);
    expect(text).toContain("one HTML or SVG file");
    expect(text).toContain("may be used: three");
    expect(text).toContain("640 × 480");
  });
});
