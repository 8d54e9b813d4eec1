import { describe, expect, it } from "vitest";
import { count, formatAgo, formatMs, formatShare, formatUsd } from "./format.js";

describe("formatting", () => {
  it("gives money the decimals it needs", () => {
    expect([4.178, 0.0714, 0.00042, 0.00001, 0, null].map(formatUsd)).toEqual([
      "$4.18",
      "$0.071",
      "$0.0004",
      "<$0.0001",
      "$0",
      "—",
    ]);
  });
  it("says times as people do", () => {
    expect([410, 9200, 41_200, 72_000, null].map(formatMs)).toEqual(["410 ms", "9.2 s", "41 s", "1 m 12", "—"]);
  });
  it("says how long ago", () => {
    const now = Date.parse("2026-01-01T12:00:00Z");
    expect(
      ["2026-01-01T11:59:58Z", "2026-01-01T11:58:00Z", "2026-01-01T09:00:00Z", "2025-12-31T12:00:00Z"].map((iso) =>
        formatAgo(iso, now),
      ),
    ).toEqual(["just now", "2 minutes ago", "3 hours ago", "yesterday"]);
  });
  it("counts", () => {
    expect([count(1, "ballot"), count(1200, "ballot"), count(2, "entry", "entries")]).toEqual([
      "1 ballot",
      "1,200 ballots",
      "2 entries",
    ]);
    expect(formatShare(0.876)).toBe("88 %");
  });
});
