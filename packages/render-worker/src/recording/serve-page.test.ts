import { openShelf } from "@tourney/store";
import { describe, expect, it } from "vitest";
import { createServePage, ENTRY_ORIGIN, HOST_ADDRESS } from "./serve-page.js";

const files = new Map(
  Object.entries({
    "pages/start here.html": '<!doctype html><script src="//cdn.example/x.js" integrity="sha384-x"></script><p>start',
    "pages/style.css": "p { color: red }",
    "data.bin": "\u0000\u0001",
    "drawing.svg": "<svg/>",
  }).map(([path, text]) => [path, Buffer.from(text)]),
);
const serve = createServePage(files, "pages/start here.html", openShelf("/no/such/shelf"));
const get = async (path: string) => {
  const served = await serve(path.startsWith("http") ? path : `${ENTRY_ORIGIN}/${path}`);
  return served.kind === "found"
    ? { type: served.headers["Content-Type"], body: served.body.toString("utf8") }
    : served;
};

describe("a recorded page", () => {
  it("stands in a frame of an origin of its own, its address spelt as addresses are", async () => {
    const { body } = (await get(HOST_ADDRESS)) as { body: string };
    expect(body).toContain(`src="${ENTRY_ORIGIN}/pages/start%20here.html"`);
    expect(body).toMatch(/sandbox="allow-scripts[^"]*"/);
    expect(ENTRY_ORIGIN).not.toBe(new URL(HOST_ADDRESS).origin);
    expect(body).not.toContain("allow-top-navigation");
  });

  it("is given its own files by their kind, and its libraries may be of another build", async () => {
    const page = (await get("pages/start%20here.html")) as { type: string; body: string };
    expect(page.type).toBe("text/html; charset=utf-8");
    expect(page.body).not.toContain("integrity");
    expect(page.body).toContain("<p>start");
    expect(await get("pages/style.css")).toMatchObject({ type: "text/css; charset=utf-8" });
    expect(await get("data.bin")).toMatchObject({ type: "application/octet-stream" });
    expect(await get("drawing.svg")).toMatchObject({ type: "image/svg+xml", body: "<svg/>" });
  });

  it("is told what is not there, what is asked for by habit apart", async () => {
    expect(await get("pages/picture.png")).toEqual({ kind: "missing", path: "pages/picture.png", isUsual: false });
    expect(await get("favicon.ico")).toMatchObject({ kind: "missing", isUsual: true });
    expect(await get("x.js.map")).toMatchObject({ kind: "missing", isUsual: true });
    expect(await get("%E0%A4%A")).toMatchObject({ kind: "missing", path: "%E0%A4%A" });
    expect(await get("../../etc/passwd")).toMatchObject({ kind: "missing" });
  });

  it("gets nothing from anywhere else", async () => {
    for (const address of [
      "https://example.com/",
      "http://127.0.0.1:80/x",
      "file:///etc/passwd",
      "ftp://x/y",
      "no address",
    ])
      expect(await serve(address)).toEqual({ kind: "blocked", library: null });
    expect(await serve("https://unpkg.com/knots@2")).toEqual({ kind: "blocked", library: "knots 2" });
  });

  it("is a page also where it is a drawing", async () => {
    const drawing = createServePage(files, "drawing.svg", openShelf("/no/such/shelf"));
    const served = await drawing(`${ENTRY_ORIGIN}/drawing.svg`);
    expect(served).toMatchObject({ kind: "found", headers: { "Content-Type": "text/html; charset=utf-8" } });
    expect((served as { body: Buffer }).body.toString()).toContain("<!doctype html>");
  });
});
