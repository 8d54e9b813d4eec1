import { mkdtempSync, existsSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { choosePort, type Instance, processStart, readLock, readSecrets, removeLock, writeLock } from "./instance.js";

let instance: Instance;
beforeEach(() => {
  const dir = mkdtempSync(join(tmpdir(), "tourney-instance-"));
  instance = { name: "test", dir, logDir: dir, dataDir: dir };
});
afterEach(() => rmSync(instance.dir, { recursive: true, force: true }));

const URLS = { appUrl: "http://localhost:1", exhibitUrl: null, standInUrl: null, database: null };

describe("the lock", () => {
  it("names the process that runs the instance until it is removed", () => {
    writeLock(instance, URLS);
    expect(readLock(instance)).toMatchObject({ pid: process.pid, appUrl: "http://localhost:1" });
    removeLock(instance);
    expect(readLock(instance)).toBeNull();
  });

  it.each([
    ["of a process that is gone", JSON.stringify({ pid: 999_999_99, startedAtTicks: "1", ...URLS })],
    ["of an earlier process with our number", JSON.stringify({ pid: process.pid, startedAtTicks: "1", ...URLS })],
    ["that was cut short", '{"pid":'],
  ])("%s is removed and not a reason to fail", (_what, text) => {
    writeFileSync(join(instance.dir, "lock.json"), text);
    expect(readLock(instance)).toBeNull();
    expect(existsSync(join(instance.dir, "lock.json"))).toBe(false);
  });

  it("tells a living process from none", () => {
    expect(processStart(process.pid)).toMatch(/^\d+$/);
    expect(processStart(999_999_99)).toBeNull();
  });
});

describe("secrets", () => {
  it("are made once, kept, and readable by their owner alone", () => {
    const secrets = readSecrets(instance);
    expect(readSecrets(instance)).toEqual(secrets);
    expect(secrets.secret.length).toBeGreaterThan(60);
    expect(statSync(join(instance.dir, "secrets.json")).mode & 0o777).toBe(0o600);
  });
});

describe("choosePort", () => {
  it("takes the next free one when the preferred is taken", async () => {
    const server = createServer();
    await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
    const { port } = server.address() as { port: number };
    const chosen = await choosePort(port);
    expect(chosen).toBeGreaterThan(port);
    server.close();
  });
});
