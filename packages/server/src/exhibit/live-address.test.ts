import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { createLiveAddresses } from "./live-address.js";

const live = createLiveAddresses({ secret: "for tests only", exhibitOrigin: "http://127.0.0.1:4611" });
const ENTRY = "00000000-0000-4000-8000-000000000031";
const tokenIn = (address: string) => new URL(address).pathname.split("/")[2]!;

beforeEach(() => void vi.useFakeTimers({ now: new Date("2031-05-12T23:50:00Z") }));
afterEach(() => void vi.useRealTimers());

describe("the address under which the lead sees an entry live", () => {
  it("stays the same while it is asked for again, so that the page in it goes on", () => {
    const first = live.addressOf(ENTRY, "index.html");
    vi.advanceTimersByTime(3000);
    expect(live.addressOf(ENTRY, "index.html")).toBe(first);
  });

  it("is good for a day at least, and not for ever", () => {
    const token = tokenIn(live.addressOf(ENTRY, "index.html"));
    vi.advanceTimersByTime(24 * 3_600_000);
    expect(live.read(token)).toBe(ENTRY);
    vi.advanceTimersByTime(24 * 3_600_000);
    expect(live.read(token)).toBeNull();
  });

  it("is refused when it was changed", () => {
    const token = tokenIn(live.addressOf(ENTRY, "index.html"));
    expect(live.read(`${token}x`)).toBeNull();
  });
});
