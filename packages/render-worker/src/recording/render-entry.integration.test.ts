import type { Recording } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";

const asPage = (body: string) =>
  `<!doctype html><html lang="en"><title>Page</title><body style="margin:0">${body}</body></html>`;

/** Records a page's body, which is expected to move unless the plan says otherwise. */
const record = (
  body: string,
  plan: Parameters<typeof recordForTest>[1] = {},
  files: Record<string, string> = {},
): Promise<Recording> => recordForTest({ "index.html": asPage(body), ...files }, { motionExpected: true, ...plan });
const rulesOf = ({ findings }: Recording) => findings.map(({ rule }) => rule);
const hashesOf = ({ frames }: Recording) => frames.map(({ sha256 }) => sha256);

const MOVING = `<canvas id="c" width="480" height="300"></canvas><style>p { animation: go 1s infinite alternate } @keyframes go { to { transform: translateX(200px) } }</style><p>text</p><script>
  const g = c.getContext("2d"); let x = 0;
  addEventListener("keydown", (e) => { if (e.key === "ArrowRight") x += 100; });
  function frame(t) { g.fillStyle = "#124"; g.fillRect(0, 0, 480, 300); g.fillStyle = "#fc0"; g.fillRect(x + t / 20, 100 + Math.random() * 30, 60, 60); requestAnimationFrame(frame); }
  requestAnimationFrame(frame);
  setInterval(() => console.log("tick", Math.round(performance.now()), new Date().toISOString()), 500);
</script>`;

describe("a recording", () => {
  it("shows the page at further sizes, opened anew there", async () => {
    const page = `<style>p { background: red; height: 100px } @media (max-width: 300px) { p { background: blue } }</style><p></p>`;
    const { frames, views } = await record(page, { furtherViewports: [{ width: 240, height: 400 }] });
    expect(frames).toHaveLength(5);
    expect(views).toMatchObject([
      { viewport: { width: 240, height: 400 }, frame: { atMs: 2000, file: "view-240x400.webp" } },
    ]);
    expect(hashesOf({ frames } as Recording)).not.toContain(views[0]!.frame.sha256);
  });

  it("keeps what the page said at the end, wherever it said it", async () => {
    const { shownText } = await record(
      `<p>seen  text</p><p hidden>hidden text</p><img alt="an alt text"><input id="i" placeholder="a hint"><style>#s::after { content: "made by style" }</style><p id="s">.</p><div id="host"></div>
       <script>i.value = "typed text"; host.attachShadow({ mode: "open" }).innerHTML = "<p>in a shadow</p>"; setTimeout(() => document.body.append("added later"), 500)</script>`,
      { motionExpected: false },
    );
    for (const text of [
      "seen text",
      "an alt text",
      "a hint",
      "typed text",
      "made by style",
      "in a shadow",
      "added later",
    ])
      expect(shownText).toContain(text);
    expect(shownText).not.toContain("hidden text");
    expect(shownText).not.toContain("attachShadow");
  });

  it("has frames at their moments, sees motion, and keeps what the page said", async () => {
    const recording = await record(MOVING);
    expect(recording.outcome).toBe("ok");
    expect(recording.frames.map(({ atMs }) => atMs)).toEqual([33, 533, 1017, 1517, 2000]);
    expect(Math.min(...recording.metrics.motion)).toBeGreaterThan(0.001);
    expect(rulesOf(recording)).toEqual([]);
    expect(recording.console[0]).toMatchObject({
      level: "info",
      source: "console",
      // The document begins some milliseconds after time does.
      text: expect.stringMatching(/^tick 5[01]\d 2026-01-01T00:00:00\.5[01]\dZ$/) as string,
    });
    expect(recording.isolation.sandbox).toBe(true);
  });

  it("agrees to the byte with another one of the same page, inputs included", async () => {
    const walkthrough = [{ atMs: 600, key: "ArrowRight", holdMs: 300 }];
    const [first, second, without] = [
      await record(MOVING, { walkthrough }),
      await record(MOVING, { walkthrough }),
      await record(MOVING),
    ];
    expect(hashesOf(second)).toEqual(hashesOf(first));
    expect(second.console).toEqual(first.console);
    expect(hashesOf(without)[0]).toBe(hashesOf(first)[0]);
    expect(hashesOf(without)[3]).not.toBe(hashesOf(first)[3]);
  });

  it("types, drags, and finds what is named, and says what is not there", async () => {
    const form = `<label>Harbour <input id="h"></label><button onclick="console.log('pressed ' + h.value)">Plan crossing</button>
      <div id="d" style="position:absolute;left:200px;top:100px;width:40px;height:40px;background:red"></div><script>
      d.onmousedown = () => { onmousemove = (e) => { if (e.buttons) d.style.left = e.clientX + "px"; }; onmouseup = () => console.log("at " + d.style.left); };</script>`;
    const { console: log, outcome } = await record(form, {
      walkthrough: [
        { atMs: 100, click: { role: "textbox", name: "harbour" } },
        { atMs: 300, type: "Skerry" },
        { atMs: 500, click: { name: "Plan" } },
        { atMs: 700, click: { name: "No such button" } },
        { atMs: 900, drag: { from: { x: 220, y: 120 }, to: { x: 300, y: 120 } }, holdMs: 400 },
      ],
    });
    expect(outcome).toBe("ok");
    // Looked up once for the move, the press and the release.
    expect([...new Set(log.map(({ text }) => text))]).toEqual([
      "pressed Skerry",
      'Walkthrough: there is no anything named "No such button".',
      "at 300px",
    ]);
  });

  it("reaches the page's own files and nothing else", async () => {
    const recording = await record(
      '<link rel="stylesheet" href="css/a.css"><script src="b.js"></script><img src="http://pictures.example/x.png"><div></div>',
      { motionExpected: false },
      {
        "css/a.css": "div { width: 100px; height: 100px; background: red }",
        "b.js": "console.log('loaded')",
      },
    );
    expect(recording.console.map(({ text }) => text)).toContain("loaded");
    expect(recording.findings[0]).toMatchObject({
      rule: "blocked_request",
      evidence: "http://pictures.example/x.png",
    });
  });

  it.each([
    ["blank", "", "ok", ["blank"]],
    [
      "not blank when it draws late",
      "<script>setTimeout(() => document.body.innerHTML = '<h1>Late</h1>', 1200)</script>",
      "ok",
      [],
    ],
    ["still", "<h1>Nothing moves here</h1>", "ok", ["still"]],
    [
      "in error",
      "<h1 id=a>Hi</h1><script>setInterval(() => a.textContent += 'x', 100); setTimeout(() => gate.open(), 300)</script>",
      "ok",
      ["exception"],
    ],
    [
      "gone elsewhere",
      "<h1>Bye</h1><script>setTimeout(() => location.href = 'other.html', 400)</script>",
      "navigated",
      ["navigated", "blocked_request"],
    ],
  ] as const)("tells when a page is %s", async (_what, body, outcome, rules) => {
    const recording = await record(body);
    expect(recording.outcome).toBe(outcome);
    expect(rulesOf(recording).filter((rule) => rule !== "blocked_request")).toEqual(
      rules.filter((rule) => (rule as string) !== "blocked_request"),
    );
  });

  it("keeps native pickers shut, so that an honest form is recorded to its end", async () => {
    const body =
      '<select autofocus><option>one<option>two</select><input type="color"><h1 id="t">0</h1><script>setInterval(() => t.textContent++, 100)</script>';
    const { outcome, frames } = await record(body, {
      walkthrough: [
        { atMs: 200, key: "Tab", holdMs: 0 },
        { atMs: 400, key: "Enter", holdMs: 0 },
        { atMs: 700, click: { x: 20, y: 10 } },
      ],
    });
    expect([outcome, frames.length]).toEqual(["ok", 5]);
  });

  it("ends a page that hangs, keeps what was recorded before, and harms no later one", async () => {
    const page = asPage("<h1 id=a>Hi</h1><script>setTimeout(() => { for (;;); }, 900)</script>");
    const hung = await recordForTest(page, {}, { frameLimitMs: 4000 });
    expect(hung).toMatchObject({ outcome: "hung" });
    expect(hung.frames.length).toBeGreaterThan(0);
    expect((await record(MOVING)).outcome).toBe("ok");
  }, 60_000);

  it("ends a page that takes more memory than it may, also outside the script's own heap, and harms no later one", async () => {
    const hungry = `<h1>Hungry</h1><script>const kept = []; setInterval(() => { for (let i = 0; i < 8; i++) kept.push(new Uint8Array(32e6).fill(i + 1)); }, 50);</script>`;
    const recording = await record(hungry, { seconds: 6 });
    expect(recording).toMatchObject({ outcome: "memory" });
    expect(rulesOf(recording)).toContain("crashed");
    expect((await record(MOVING)).outcome).toBe("ok");
  }, 60_000);

  it("says what is missing when there is no browser", async () => {
    const rendering = recordForTest("x", {}, { browserPath: "/no/such/browser" });
    await expect(rendering).rejects.toMatchObject({
      code: "BROWSER_MISSING",
      remedy: expect.stringContaining("apt-get install") as unknown,
    });
  });

  it("moves, turns the wheel, and takes another window's size, and tells what the page made of each", async () => {
    const page = `<style>#box { height: 60px; background: #136 } @media (max-width: 300px) { #box { background: #c33 } }</style>
      <div id="box"></div><p id="p">0</p><div style="height: 900px"></div><script>
      box.onmousemove = (e) => { p.textContent = "at " + e.clientX; }; addEventListener("wheel", (e) => console.log("wheel " + e.deltaY));</script>`;
    const recording = await record(page, {
      motionExpected: false,
      walkthrough: [
        { atMs: 400, move: { x: 120, y: 30 }, holdMs: 200 },
        { atMs: 900, wheel: { at: { x: 100, y: 200 }, byX: 0, byY: 100 } },
        { atMs: 1400, resize: { width: 280, height: 300 } },
      ],
    });
    expect(recording.outcome).toBe("ok");
    expect(recording.console.map(({ text }) => text)).toContain("wheel 100");
    expect(recording.steps.map(({ effect }) => effect)).toEqual(["changed", "changed", "changed"]);
    expect(new Set(recording.steps.map(({ before, after }) => `${before!} ${after!}`)).size).toBe(3);
    expect(rulesOf(recording)).not.toContain("dead_control");
  });

  it("tries each control of an application once, and finds the one that does nothing", async () => {
    const page = `<h1 id="h">0</h1><button onclick="h.textContent++">More</button><button>Less</button>`;
    const recording = await record(page, { kind: "app", motionExpected: false, seconds: 4 });
    expect(recording.steps.map(({ control, effect, origin }) => `${control!} ${effect} ${origin}`)).toEqual([
      "button “More” changed default",
      "button “Less” none default",
    ]);
    expect(recording.findings.find(({ rule }) => rule === "dead_control")?.message).toBe("Button “Less” does nothing");
  });

  it("tells a key that moves a game from one that does nothing, though it moves by itself", async () => {
    const walkthrough = [
      { atMs: 400, key: "ArrowRight", holdMs: 100 },
      { atMs: 1200, key: "ArrowUp", holdMs: 100 },
    ];
    const { steps } = await record(MOVING, { walkthrough });
    expect(steps.map(({ effect }) => effect)).toEqual(["changed", "none"]);
  });

  it("is compared with others of the same page when that is asked for", async () => {
    const { stability } = await record(MOVING, { repeats: 3, seconds: 1 });
    expect(stability).toEqual({ recordings: 3, isStable: true, differing: [] });
  });

  it("lets a page that waits by asking for the time come to its end", async () => {
    const { outcome, console: log } = await record(
      "<h1>Waits</h1><script>const from = Date.now(); while (new Date() - from < 300); console.log('waited ' + (Date.now() - from >= 300))</script>",
    );
    expect([outcome, log[0]?.text]).toEqual(["ok", "waited true"]);
  });

  it("is made with a clock in the page where only the full browser is there", async () => {
    const make = () =>
      recordForTest(asPage(MOVING), { motionExpected: true }, { browserPath: "/usr/lib/chromium/chromium" });
    const [first, second] = [await make(), await make()];
    expect([first.outcome, first.clock]).toEqual(["ok", "injected"]);
    expect(Math.min(...first.metrics.motion)).toBeGreaterThan(0.001);
    expect(hashesOf(second)).toEqual(hashesOf(first));
  });
});
