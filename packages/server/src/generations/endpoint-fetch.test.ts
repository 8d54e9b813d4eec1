import { networkInterfaces } from "node:os";
import { describe, expect, it } from "vitest";
import { isNear } from "./endpoint-fetch.js";

describe("an address", () => {
  it.each([
    "127.0.0.1",
    "127.8.9.1",
    "0.0.0.0",
    "169.254.169.254",
    "::1",
    "::",
    "fe80::1",
    "fe80::1%eth0",
    "::ffff:127.0.0.1",
    "::ffff:169.254.169.254",
  ])("%s is this machine's or link-local", (address) => expect(isNear(address)).toBe(true));

  it("of one of this machine's own networks cards is, too", () => {
    for (const { address } of Object.values(networkInterfaces()).flatMap((all) => all ?? []))
      expect(isNear(address)).toBe(true);
  });

  it.each(["192.0.2.7", "198.51.100.1", "2001:db8::7"])("%s is not", (address) => expect(isNear(address)).toBe(false));
});
