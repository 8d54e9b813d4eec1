import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  addressBareImports,
  addressLibraries,
  chooseOnShelf,
  handOn,
  moduleAddress,
  readLibraryRequest,
  type ShelfPackage,
} from "./index.js";

const request = (url: string) => {
  const read = readLibraryRequest(url);
  return read && `${read.library} ${read.range ?? "any"} ${read.path ?? "main"}${read.isModule ? " module" : ""}`;
};

describe("readLibraryRequest", () => {
  it.each([
    ["https://cdn.jsdelivr.net/npm/three@0.160.0/build/three.min.js", "three 0.160.0 build/three.min.js"],
    ["https://cdn.jsdelivr.net/npm/chart.js", "chart.js any main"],
    ["https://cdn.jsdelivr.net/npm/d3@7/+esm", "d3 7 main module"],
    ["https://cdn.jsdelivr.net/gh/mrdoob/three.js@r128/build/three.js", "three 0.128 **/build/three.js"],
    ["//unpkg.com/@babel/standalone/babel.min.js", "@babel/standalone any babel.min.js"],
    ["https://unpkg.com/vue@3", "vue 3 main"],
    ["https://unpkg.com/three@0.150.0?module", "three 0.150.0 main module"],
    ["https://cdnjs.cloudflare.com/ajax/libs/three.js/r128/three.min.js", "three 0.128 **/three.min.js"],
    ["https://cdnjs.cloudflare.com/ajax/libs/p5.js/1.4.0/p5.js", "p5 1.4.0 **/p5.js"],
    ["https://esm.sh/react@18.2.0?dev", "react 18.2.0 main module"],
    ["https://esm.sh/v135/three@0.160.0/examples/jsm/a.js", "three 0.160.0 examples/jsm/a.js module"],
    ["https://ga.jspm.io/npm:preact@10.0.0/dist/preact.mjs", "preact 10.0.0 dist/preact.mjs module"],
    ["https://cdn.tailwindcss.com", "@tailwindcss/browser 3 main"],
    ["https://cdn.tailwindcss.com/3.4.1?plugins=forms", "@tailwindcss/browser 3.4.1 main"],
    ["https://code.jquery.com/jquery-3.7.1.slim.min.js", "jquery 3.7.1 main"],
    ["https://d3js.org/d3.v7.min.js", "d3 7 main"],
    ["https://fonts.googleapis.com/css2?family=Inter", null],
    ["https://unpkg.com/a/../../etc/passwd", null],
    ["data:text/javascript,1", null],
  ])("reads %s", (url, expected) => {
    expect(request(url)).toBe(expected);
  });
  it("never throws, whatever the address", () => {
    fc.assert(fc.property(fc.string(), (text) => void readLibraryRequest(`https://unpkg.com/${text}`)));
    fc.assert(fc.property(fc.string(), (text) => void readLibraryRequest(text)));
  });
});

const pack = (version: string, files: string[], more: Partial<ShelfPackage> = {}): ShelfPackage => ({
  name: "knots",
  version,
  folder: `knots@${version}`,
  script: null,
  module: null,
  style: null,
  files,
  ...more,
});
const SHELF = [
  pack("0.128.0", ["build/knots.js"]),
  pack("0.160.1", ["build/knots.module.js", "build/knots.min.js"], {
    script: "build/knots.min.js",
    module: "build/knots.module.js",
  }),
  pack("2.0.0", ["dist/knots.js"], { script: "dist/knots.js" }),
];
const choose = (range: string | null, path: string | null, isModule = false) => {
  const choice = chooseOnShelf(SHELF, { library: "knots", range, path, isModule });
  return choice && `${choice.package.version} ${choice.path}${choice.exact ? "" : " instead"}`;
};

describe("chooseOnShelf", () => {
  it("takes a version that was asked for, else the nearest, and says so", () => {
    expect(choose("0.160", "build/knots.min.js")).toBe("0.160.1 build/knots.min.js");
    expect(choose("0.150.0", "build/knots.min.js")).toBe("0.160.1 build/knots.min.js instead");
    expect(choose("^2.0.0", null)).toBe("2.0.0 dist/knots.js");
    expect(choose(null, null)).toBe("2.0.0 dist/knots.js");
    expect(choose("1.0.0", "dist/knots.js")).toBe("2.0.0 dist/knots.js instead");
  });
  it("finds a file with or without its .min, and one that another host keeps flat", () => {
    expect(choose("0.128", "build/knots.min.js")).toBe("0.128.0 build/knots.js");
    expect(choose("0.160", "**/knots.module.js")).toBe("0.160.1 build/knots.module.js");
  });
  it("gives a module where a module is asked for", () => {
    expect(choose("0.160", null, true)).toBe("0.160.1 build/knots.module.js");
  });
  it("has nothing for a library or a file that is not there", () => {
    expect(chooseOnShelf(SHELF, { library: "sails", range: null, path: null, isModule: false })).toBeNull();
    expect(choose(null, "no/such.js")).toBeNull();
  });
});

describe("addresses", () => {
  it("are written into a module's bare imports, and nowhere else", () => {
    const text =
      'import a from "three"; export * from "./b.js"; import("d3"); const s = "from nowhere"; import "https://x.y/z"';
    expect(addressBareImports(text, (name) => moduleAddress("esm.sh", name))).toBe(
      'import a from "https://esm.sh/three"; export * from "./b.js"; import("https://esm.sh/d3"); const s = "from nowhere"; import "https://x.y/z"',
    );
  });
  it("are written as each host writes them", () => {
    for (const host of ["cdn.jsdelivr.net", "unpkg.com", "ga.jspm.io", "esm.sh"]) {
      const address = moduleAddress(host, "@a/knots@1.2.3/dist/b.mjs");
      expect(readLibraryRequest(address)).toEqual({
        library: "@a/knots",
        range: "1.2.3",
        path: "dist/b.mjs",
        isModule: true,
      });
    }
  });
  it("of one module lead to one module, with its default if it has one", () => {
    expect(handOn("https://a/b", "export const x = 1")).toBe('export * from "https://a/b";\n');
    expect(handOn("https://a/b", "export { y as default }")).toContain('export { default } from "https://a/b"');
  });
  it("of library hosts are turned to the shelf, other addresses stay", () => {
    const page = `<script src="https://cdn.jsdelivr.net/npm/three@0.160.0/build/three.js"></script><script src='//unpkg.com/vue@3'></script><a href="https://example.org/unpkg.com">x</a>`;
    expect(addressLibraries(page, "http://h/shelf")).toBe(
      `<script src="http://h/shelf/cdn.jsdelivr.net/npm/three@0.160.0/build/three.js"></script><script src='http://h/shelf/unpkg.com/vue@3'></script><a href="https://example.org/unpkg.com">x</a>`,
    );
  });
});
