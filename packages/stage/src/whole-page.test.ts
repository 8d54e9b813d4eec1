import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { makeWhole, type OwnFile } from "./whole-page.js";

const TYPES: Record<string, string> = { js: "text/javascript", css: "text/css", json: "application/json" };
const file = (path: string, text: string): OwnFile => ({
  path,
  type: TYPES[path.split(".").at(-1)!] ?? "image/png",
  bytes: Buffer.from(text),
});
const whole = (files: Record<string, string>, entry = "index.html") =>
  makeWhole(
    entry,
    Object.entries(files).map(([path, text]) => file(path, text)),
  )!;
/** The text of the first data address of a type. */
const read = (text: string, type: string): string =>
  atob(new RegExp(`data:${type};base64,([A-Za-z0-9+/=]*)`).exec(text)?.[1] ?? "");

describe("makeWhole", () => {
  it("puts scripts, styles, pictures and data into the page, wherever they are asked for", () => {
    const page = whole({
      "index.html": `<link rel=stylesheet href="css/style.css?v=2"><img src='sea.png' srcset="sea.png 1x, sea.png 2x"><script src=app.js defer></script>`,
      "css/style.css": `@import "base.css"; body { background: url(../sea.png) }`,
      "css/base.css": "p { color: teal }",
      "app.js": `fetch("data.json"); new Worker('work.js')`,
      "data.json": `{"tide":3}`,
      "work.js": "postMessage(1)",
      "sea.png": "PNG",
    });
    expect(page).not.toMatch(/(?:href|src)=["']?(?:css|sea|app)/);
    expect(page).toMatch(/<script src=data:text\/javascript;base64,\S+ defer>/);
    expect(page.match(/data:image\/png/g)).toHaveLength(3);
    const style = read(page, "text/css");
    expect(read(style, "image/png")).toBe("PNG");
    expect(read(style, "text/css")).toBe("p { color: teal }");
    const script = read(page, "text/javascript");
    expect(JSON.parse(read(script, "application/json"))).toEqual({ tide: 3 });
    expect(read(script, "text/javascript")).toBe("postMessage(1)");
  });

  it("follows modules by their own place, and scripts by the page's", () => {
    const page = whole({
      "index.html": `<script type="module" src="js/main.js"></script>`,
      "js/main.js": `import { a } from "./a.js"; fetch("a.json")`,
      "js/a.js": "export const a = 1",
      "a.json": "[]",
    });
    const main = read(page, "text/javascript");
    expect(read(main, "text/javascript")).toBe("export const a = 1");
    expect(read(main, "application/json")).toBe("[]");
  });

  it("leaves what it cannot put in: other hosts, parts of a drawing, what is not there, circles, pages", () => {
    const page = `<script src="https://elsewhere.example/x.js"></script><use href="s.svg#buoy"/><img src="none.png"><iframe src="two.html"></iframe>`;
    expect(whole({ "index.html": page, "s.svg": "<svg/>", "two.html": "<p>" })).toBe(page);
    const round = whole({
      "index.html": `<script type=module>import "./a.js"</script>`,
      "a.js": `import "./b.js"`,
      "b.js": `import "./a.js"`,
    });
    expect(read(read(round, "text/javascript"), "text/javascript")).toBe(`import "./a.js"`);
  });

  it("gives a page of one file as it is, and nothing where there is no page", () => {
    fc.assert(fc.property(fc.string(), (text) => whole({ "index.html": text }) === text));
    expect(makeWhole("index.html", [])).toBeNull();
  });
});
