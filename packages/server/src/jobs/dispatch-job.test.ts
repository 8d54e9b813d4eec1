import { describe, expect, it } from "vitest";
import { countFree } from "./dispatch-job.js";
import type { EndpointLoad } from "./dispatch-queries.sql.js";

const load = (more: Partial<EndpointLoad> = {}): EndpointLoad => ({
  id: "00000000-0000-4000-8000-000000000001",
  concurrency: 4,
  requestsPerMinute: null,
  tokensPerMinute: null,
  inFlight: 1,
  admitted: 0,
  requestsLastMinute: 0,
  tokensLastMinute: 0,
  ...more,
});

describe("countFree", () => {
  it("fills an endpoint up to its concurrency", () => {
    expect(countFree(load())).toEqual({ free: 3, recheckMs: null });
    expect(countFree(load({ inFlight: 9 }))).toEqual({ free: 0, recheckMs: null });
  });
  it("counts requests of the last minute and those that are about to be sent", () => {
    expect(countFree(load({ requestsPerMinute: 10, requestsLastMinute: 7, admitted: 1 }))).toMatchObject({
      free: 2,
    });
    expect(countFree(load({ requestsPerMinute: 10, requestsLastMinute: 10 }))).toEqual({
      free: 0,
      recheckMs: 2000,
    });
  });
  it("stops when a minute's tokens are used", () => {
    expect(countFree(load({ tokensPerMinute: 1000, tokensLastMinute: 999 })).free).toBe(3);
    expect(countFree(load({ tokensPerMinute: 1000, tokensLastMinute: 1000 }))).toEqual({
      free: 0,
      recheckMs: 2000,
    });
  });
});
