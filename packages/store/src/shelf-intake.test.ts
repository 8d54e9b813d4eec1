import { createHash } from "node:crypto";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { execFileSync } from "node:child_process";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { createIntake, listLacking } from "./shelf-intake.js";
import { addPackage, listTaken } from "./shelf-package.js";
import { openShelf } from "./shelf.js";

let registry: Server;
let address = "";
let folder = "";
const asked: string[] = [];
/** What the registry hands out: a package that would leave a trace when anything of it were run. */
const trace = join(tmpdir(), `tourney-trace-${process.pid}`);
const RUNS = `require("fs").writeFileSync(${JSON.stringify(trace)}, "ran");`;

function pack(version: string): Buffer {
  const made = mkdtempSync(join(tmpdir(), "tourney-pack-"));
  const own = join(made, "package");
  execFileSync("mkdir", [own]);
  const scripts = { preinstall: "node run.js", postinstall: "node run.js" };
  writeFileSync(join(own, "package.json"), JSON.stringify({ name: "knots", version, main: "knots.js", scripts }));
  writeFileSync(join(own, "run.js"), RUNS);
  writeFileSync(
    join(own, "knots.js"),
    `${RUNS} exports.splice = "${version}"; exports.secret = require("../../../outside.json");`,
  );
  const packed = execFileSync("tar", ["-czf", "-", "-C", made, "package"]);
  rmSync(made, { recursive: true });
  return packed;
}

beforeAll(async () => {
  const packed = new Map(["1.0.0", "1.4.0", "2.0.0"].map((version) => [version, pack(version)]));
  registry = createServer((request, response) => {
    asked.push(request.url ?? "");
    const file = /knots-(.*)\.tgz$/.exec(request.url ?? "")?.[1];
    if (file !== undefined) return response.end(packed.get(file));
    if (request.url !== "/knots") {
      response.statusCode = 404;
      return response.end("{}");
    }
    const versions = [...packed].map(([version, bytes]): [string, object] => [
      version,
      {
        name: "knots",
        version,
        scripts: { postinstall: "node run.js" },
        hasInstallScript: true,
        dist: {
          tarball: `${address}/knots-${version}.tgz`,
          integrity: `sha512-${createHash("sha512").update(bytes).digest("base64")}`,
          unpackedSize: version === "2.0.0" ? 500e6 : 1000,
        },
      },
    ]);
    response.setHeader("Content-Type", "application/json");
    return response.end(
      JSON.stringify({ name: "knots", "dist-tags": { latest: "1.4.0" }, versions: Object.fromEntries(versions) }),
    );
  });
  await new Promise<void>((resolve) => registry.listen(0, "127.0.0.1", resolve));
  address = `http://127.0.0.1:${(registry.address() as AddressInfo).port}`;
});
afterAll(() => {
  registry.close();
  rmSync(trace, { force: true });
});
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "tourney-shelf-"));
  asked.length = 0;
  vi.stubEnv("npm_config_registry", address);
});
afterEach(() => {
  vi.unstubAllEnvs();
  rmSync(folder, { recursive: true, force: true });
});

const open = (mayBegin?: Promise<void>) => {
  const told: object[] = [];
  const intake = createIntake({ folder, tell: (event) => void told.push(event), ...(mayBegin ? { mayBegin } : {}) });
  return { shelf: openShelf(folder, intake), told };
};
const KNOTS = "https://cdn.jsdelivr.net/npm/knots@1/knots.js";

describe("taking in what a page asks for", () => {
  it("fetches it once, with its digest, and runs nothing of it", async () => {
    const { shelf, told } = open();
    expect((await shelf.find(KNOTS)).kind).toBe("lacking");
    expect(await shelf.takeIn([KNOTS, KNOTS, "https://esm.sh/knots@1", "https://example.com/a.js"])).toBe(1);
    expect(await shelf.find(KNOTS)).toMatchObject({
      kind: "found",
      substitution: { served: "knots 1.4.0", exact: true },
    });
    expect(await listTaken(folder)).toMatchObject([
      { asked: "knots@1", version: "1.4.0", integrity: expect.stringMatching(/^sha512-/) as string },
    ]);
    expect(told).toMatchObject([{ taken: { name: "knots" } }]);
    expect(existsSync(trace)).toBe(false);
    const requests = asked.length;
    expect(await shelf.takeIn([KNOTS])).toBe(0);
    expect(asked.length).toBe(requests);
  });
  it("makes a module of it from its text alone, and lets it reach no file but its own", async () => {
    writeFileSync(join(folder, "outside.json"), '{"password":"hidden"}');
    const { shelf } = open();
    await shelf.takeIn([KNOTS]);
    const made = readFileSync(join(folder, "knots@1", "node_modules", "knots", "index.tourney.mjs"), "utf8");
    expect(made).toContain("splice");
    expect(made).not.toContain("hidden");
    expect(existsSync(trace)).toBe(false);
  });
  it("takes in the version that is asked for, beside another that is there", async () => {
    const { shelf } = open();
    await shelf.takeIn([KNOTS]);
    expect(await shelf.takeIn(["https://unpkg.com/knots@1.0.0/knots.js"])).toBe(1);
    expect(await shelf.find(KNOTS)).toMatchObject({ substitution: { served: "knots 1.4.0" } });
    expect(await shelf.find("https://unpkg.com/knots@1.0.0/knots.js")).toMatchObject({
      substitution: { served: "knots 1.0.0" },
    });
  });
  it("says what is too large or not there, leaves nothing of it, and does not ask again for a while", async () => {
    const { shelf, told } = open();
    const addresses = ["https://unpkg.com/knots@2/knots.js", "https://unpkg.com/no-such-thing"];
    expect(await shelf.takeIn(addresses)).toBe(0);
    expect(told).toMatchObject([{ refused: "knots@2", reason: "knots@2 takes 500 MB" }, { refused: "no-such-thing" }]);
    expect(readdirSync(folder)).toEqual([]);
    const requests = asked.length;
    expect(await shelf.takeIn(addresses)).toBe(0);
    expect(asked.length).toBe(requests);
  });
  it("asks for nothing more for a while where there is no registry", async () => {
    vi.stubEnv("npm_config_registry", "http://127.0.0.1:9");
    const { shelf, told } = open();
    expect(await shelf.takeIn([KNOTS, "https://unpkg.com/rope@2"])).toBe(0);
    expect(told).toMatchObject([{ refused: "knots@1" }]);
    vi.stubEnv("npm_config_registry", address);
    expect(await shelf.takeIn([KNOTS])).toBe(0);
    expect(asked).toEqual([]);
  });
  it("waits until it may begin", async () => {
    let begin = () => {};
    const { shelf } = open(new Promise((resolve) => (begin = resolve)));
    const taking = shelf.takeIn([KNOTS]);
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(asked).toEqual([]);
    begin();
    expect(await taking).toBe(1);
  });
  it("gives two that ask at a time one package", async () => {
    const added = await Promise.all([addPackage(folder, "knots@1"), addPackage(folder, "knots@1")]);
    expect(added.filter((taken) => taken !== null)).toHaveLength(1);
    expect(asked.filter((url) => url.endsWith(".tgz"))).toHaveLength(1);
  });
});

describe("listLacking", () => {
  const onShelf = {
    name: "knots",
    version: "1.4.0",
    folder: "",
    script: "knots.js",
    module: null,
    style: null,
    files: ["knots.js"],
  };
  it.each([
    ["https://unpkg.com/knots@1", []],
    ["https://unpkg.com/knots@1.0.0", ["knots@1.0.0"]],
    ["https://unpkg.com/knots@1/no-such-file.js", []],
    ["https://cdn.jsdelivr.net/combine/npm/rope@2,npm/knots@1", ["rope@2"]],
    ["https://cdn.jsdelivr.net/npm/Rope@latest/rope.js", ["rope"]],
    ["https://example.com/knots.js", []],
  ])("%s lacks %j", (address, specs) => {
    expect(listLacking([address], [onShelf])).toEqual(specs);
  });
});
