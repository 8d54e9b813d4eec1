import { describe, expect, it } from "vitest";
import { CIRCUIT_THRESHOLD, countFree } from "./dispatch-job.js";
import type { EndpointLoad } from "./dispatch-queries.sql.js";

const NOW = Date.parse("2026-01-01T12:00:00Z");
const load = (more: Partial<EndpointLoad> = {}): EndpointLoad => ({
  id: "00000000-0000-4000-8000-000000000001",
  concurrency: 4,
  requestsPerMinute: null,
  tokensPerMinute: null,
  openUntil: null,
  failuresInRow: 0,
  inFlight: 1,
  admitted: 0,
  requestsLastMinute: 0,
  tokensLastMinute: 0,
  ...more,
});

describe("countFree", () => {
  it("fills an endpoint up to its concurrency", () => {
    expect(countFree(load(), NOW)).toEqual({ free: 3, recheckMs: null });
    expect(countFree(load({ inFlight: 9 }), NOW)).toEqual({ free: 0, recheckMs: null });
  });
  it("counts requests of the last minute and those that are about to be sent", () => {
    expect(countFree(load({ requestsPerMinute: 10, requestsLastMinute: 7, admitted: 1 }), NOW)).toMatchObject({
      free: 2,
    });
    expect(countFree(load({ requestsPerMinute: 10, requestsLastMinute: 10 }), NOW)).toEqual({
      free: 0,
      recheckMs: 2000,
    });
  });
  it("stops when a minute's tokens are used", () => {
    expect(countFree(load({ tokensPerMinute: 1000, tokensLastMinute: 999 }), NOW).free).toBe(3);
    expect(countFree(load({ tokensPerMinute: 1000, tokensLastMinute: 1000 }), NOW)).toEqual({
      free: 0,
      recheckMs: 2000,
    });
  });
  it("leaves a paused endpoint alone until its time, then lets one request see", () => {
    const openUntil = new Date(NOW + 9000).toISOString();
    expect(countFree(load({ openUntil, failuresInRow: CIRCUIT_THRESHOLD }), NOW)).toEqual({ free: 0, recheckMs: 9000 });
    expect(countFree(load({ openUntil, failuresInRow: CIRCUIT_THRESHOLD, inFlight: 0 }), NOW + 9001).free).toBe(1);
    expect(countFree(load({ failuresInRow: CIRCUIT_THRESHOLD, inFlight: 1 }), NOW).free).toBe(0);
  });
});
