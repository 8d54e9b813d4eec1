import { spawnSync } from "node:child_process";
import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";

const CLI = join(import.meta.dirname, "render-cli.ts");
let folder: string;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "tourney-cli-"));
  writeFileSync(join(folder, "page.html"), "<!doctype html><title>Page</title><h1>Hello</h1>");
  writeFileSync(
    join(folder, "leaves.html"),
    `<!doctype html><title>Page</title><script>location = "other.html"</script>`,
  );
  writeFileSync(join(folder, "keys.yaml"), "- { atMs: 100, key: Ctrl+z }\n");
  mkdirSync(join(folder, "empty"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function render(path: string, ...flags: string[]) {
  return renderWith({}, path, ...flags);
}

function renderWith(env: NodeJS.ProcessEnv, path: string, ...flags: string[]) {
  const out = join(folder, "out");
  const tsx = ["--import", "tsx", "--conditions=tourney-source", CLI];
  const args = [...tsx, join(folder, path), "--seconds", "1", "--frames", "2", "--out", out, ...flags];
  const { status, stdout, stderr } = spawnSync(process.execPath, args, {
    encoding: "utf8",
    env: { ...process.env, ...env },
  });
  return { status, said: stdout + stderr };
}

describe("recording from the command line", () => {
  it("ends with the code that its help names", { timeout: 60_000 }, () => {
    expect(render("page.html").status).toBe(0);
    const left = render("leaves.html", "--json");
    expect(left.status).toBe(6);
    expect(JSON.parse(left.said)).toMatchObject({ outcome: "navigated", stability: { isStable: true } });
  });

  it.each([
    ["a folder without a page", "empty", [], "holds no page"],
    ["a path that is not there", "nothing.html", [], "cannot be read"],
    ["keys that there are not", "page.html", ["--walkthrough", "keys.yaml"], 'keys that there are not: "Ctrl+z"'],
    ["a walkthrough that is not there", "page.html", ["--walkthrough", "none.yaml"], "cannot be read"],
    ["a window without a size", "page.html", ["--viewport", "wide"], "viewport"],
    ["a folder that cannot be made", "page.html", ["--out", "/dev/null/out"], "cannot be made"],
  ])("refuses %s, and says what to do", (_what, path, flags, said) => {
    const whole = flags.map((flag) => (flag.endsWith(".yaml") ? join(folder, flag) : flag));
    const refused = render(path, ...whole);
    expect(refused.status).toBe(1);
    expect(refused.said).toContain(said);
    expect(refused.said).toContain("What to do:");
  });

  it("says that the browser's sandbox cannot be had, and records nothing outside it", () => {
    const browser = join(folder, "without-sandbox-headless-shell");
    // The browser runs as a user that owns nothing.
    chmodSync(folder, 0o755);
    writeFileSync(browser, "#!/bin/sh\necho 'No usable sandbox!' >&2\nexit 1\n", { mode: 0o755 });
    const refused = renderWith({ TOURNEY_BROWSER: browser }, "page.html");
    expect(refused.status).toBe(1);
    expect(refused.said).toContain("No usable sandbox!");
    expect(refused.said).toContain("chromium-sandbox");
  });
});
