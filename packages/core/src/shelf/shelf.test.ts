import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  addressBareImports,
  addressLibraries,
  addressRelative,
  chooseOnShelf,
  expandAddress,
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
    ["https://cdn.tailwindcss.com", "tailwindcss-cdn 3 **/tailwindcss.js"],
    ["https://cdn.tailwindcss.com/3.4.1?plugins=forms", "tailwindcss-cdn 3.4.1 **/3.4.1/tailwindcss-with-forms.js"],
    ["https://cdn.tailwindcss.com/?plugins=forms,line-clamp", "tailwindcss-cdn 3 **/tailwindcss-with-all-plugins.js"],
    ["https://code.jquery.com/jquery-3.7.1.slim.min.js", "jquery 3.7.1 main"],
    ["https://d3js.org/d3.v7.min.js", "d3 7 main"],
    ["https://esm.sh/v135/react@18.2.0/es2022/react.mjs", "react 18.2.0 main module"],
    ["https://esm.sh/stable/react@18.2.0/es2022/react.bundle.mjs", "react 18.2.0 main module"],
    ["https://esm.sh/react-dom@18.2.0/es2022/client.development.mjs", "react-dom 18.2.0 client module"],
    ["https://esm.sh/*three@0.160.0", "three 0.160.0 main module"],
    [
      "https://esm.sh/three@0.160.0/es2022/examples/jsm/controls/OrbitControls.js",
      "three 0.160.0 examples/jsm/controls/OrbitControls module",
    ],
    [
      "https://cdn.skypack.dev/pin/three@v0.132.2-dLPTyDAYt6rc6aB18fLm/mode=imports/optimized/three.js",
      "three 0.132.2 main module",
    ],
    [
      "https://cdn.skypack.dev/-/react@v17.0.1-yH0aYV1FOvoIPeKBbHxg/dist=es2020,mode=imports/optimized/react.js",
      "react 17.0.1 main module",
    ],
    ["https://cdnjs.cloudflare.com/ajax/libs/cannon.js/0.6.2/cannon.min.js", "cannon 0.6.2 **/cannon.min.js"],
    ["https://cdnjs.cloudflare.com/ajax/libs/paper.js/0.12.17/paper-full.min.js", "paper 0.12.17 **/paper-full.min.js"],
    ["https://cdnjs.cloudflare.com/ajax/libs/snap.svg/0.5.1/snap.svg-min.js", "snapsvg 0.5.1 **/snap.svg-min.js"],
    ["https://aframe.io/releases/1.5.0/aframe.min.js", "aframe 1.5.0 **/aframe.min.js"],
    ["https://cdn.plot.ly/plotly-2.27.0.min.js", "plotly.js-dist-min 2.27.0 main"],
    ["https://cdn.plot.ly/plotly-latest.min.js", "plotly.js-dist-min any main"],
    ["https://cdn.babylonjs.com/babylon.js", "babylonjs any main"],
    ["https://cdn.babylonjs.com/loaders/babylonjs.loaders.min.js", "babylonjs-loaders any main"],
    ["https://code.jquery.com/ui/1.13.2/jquery-ui.min.js", "jquery-ui-dist 1.13.2 **/jquery-ui.min.js"],
    ["https://use.fontawesome.com/releases/v5.15.4/css/all.css", "@fortawesome/fontawesome-free 5.15.4 **/css/all.css"],
    ["https://cdn.rawgit.com/mrdoob/three.js/r128/build/three.js", "three 0.128 **/build/three.js"],
    ["https://raw.githubusercontent.com/schteppe/cannon.js/v0.6.2/build/cannon.js", "cannon 0.6.2 **/build/cannon.js"],
    [
      "https://netdna.bootstrapcdn.com/bootstrap/3.3.7/css/bootstrap.min.css",
      "bootstrap 3.3.7 **/css/bootstrap.min.css",
    ],
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

describe("expandAddress", () => {
  const npm = (path: string) => `https://cdn.jsdelivr.net/npm/${path}`;
  it.each([
    ["https://cdn.jsdelivr.net/combine/npm/react@18,npm/react-dom@18", [npm("react@18"), npm("react-dom@18")]],
    [
      "https://fonts.googleapis.com/css2?family=Inter:wght@400;700&family=Playfair+Display:ital,wght@0,400;1,700&display=swap",
      [
        npm("@fontsource/inter/400.css"),
        npm("@fontsource/inter/700.css"),
        npm("@fontsource/playfair-display/400.css"),
        npm("@fontsource/playfair-display/700-italic.css"),
      ],
    ],
    [
      "https://fonts.googleapis.com/css?family=Open+Sans:400,700i|Lora",
      [
        npm("@fontsource/open-sans/400.css"),
        npm("@fontsource/open-sans/700-italic.css"),
        npm("@fontsource/lora/400.css"),
      ],
    ],
    [
      "https://fonts.googleapis.com/css2?family=Inter:wght@100..900",
      [npm("@fontsource/inter/400.css"), npm("@fontsource/inter/700.css")],
    ],
    ["https://unpkg.com/three", null],
    ["no address", null],
  ])("makes of %s what it is made of", (address, parts) => expect(expandAddress(address)).toEqual(parts));

  it("never throws, and is bounded", () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const parts = expandAddress(`https://fonts.googleapis.com/css2?family=${text}`);
        expect((parts ?? []).length).toBeLessThanOrEqual(24);
        expandAddress(text);
      }),
    );
  });

  it("makes a style sheet's relative addresses whole", () => {
    const base = npm("@fontsource/inter/400.css");
    expect(addressRelative("src: url(./files/a.woff2), url('data:x')", base)).toBe(
      "src: url(https://cdn.jsdelivr.net/npm/@fontsource/inter/files/a.woff2), url('data:x')",
    );
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
