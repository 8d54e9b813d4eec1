import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startTestServer, type TestServer } from "../../test-support/test-server.js";

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  server.keys["GORSE_KEY"] = "a-secret-key";
}, 60_000);
afterAll(() => server.close());

describe("a key", () => {
  it("goes to the host that it was first used with, whatever an entrants file says later, until it is freed", async () => {
    const { keyRing } = server.services;
    expect(await keyRing.take(null, "https://one.example/v1")).toEqual({ key: null });
    expect(await keyRing.take("HEATH_KEY", "https://one.example/v1")).toMatchObject({
      refused: { message: expect.stringContaining("HEATH_KEY is not set") as unknown },
    });
    expect(await keyRing.take("GORSE_KEY", "https://one.example/v1")).toEqual({ key: "a-secret-key" });
    const elsewhere = await keyRing.take("GORSE_KEY", "https://two.example/v1");
    expect(elsewhere).toMatchObject({
      refused: { message: expect.stringContaining("belongs to one.example") as unknown },
    });
    expect(JSON.stringify(elsewhere)).not.toContain("a-secret-key");
    expect(await keyRing.take("GORSE_KEY", "https://one.example:8443/other")).toEqual({ key: "a-secret-key" });
    // A key that is not set was never bound.
    expect((await keyRing.list()).map(({ variable, host }) => [variable, host])).toEqual([
      ["GORSE_KEY", "one.example"],
    ]);
    await keyRing.free("GORSE_KEY");
    expect(await keyRing.take("GORSE_KEY", "https://two.example/v1")).toEqual({ key: "a-secret-key" });
    await expect(keyRing.free("HEATH_KEY")).rejects.toMatchObject({ code: "NOT_FOUND" });
  });

  it("goes to one host when many ask at once", async () => {
    const { keyRing } = server.services;
    server.keys["MANY_KEY"] = "another";
    const hosts = Array.from({ length: 20 }, (_, index) => `https://host-${index}.example`);
    const taken = await Promise.all(hosts.map((host) => keyRing.take("MANY_KEY", host)));
    expect(taken.filter((one) => "key" in one)).toHaveLength(1);
  });
});
