import { spawn } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { cpus } from "node:os";
import { setTimeout as sleep } from "node:timers/promises";
import type { Recording } from "@tourney/core/contract";
import { describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";

const asPage = (body: string) =>
  `<!doctype html><html lang="en"><title>Page</title><body style="margin:0">${body}</body></html>`;
const record = (
  body: string,
  plan: Parameters<typeof recordForTest>[1] = {},
  files: Record<string, string | Buffer> = {},
): Promise<Recording> => recordForTest({ "index.html": asPage(body), ...files }, { seconds: 4, ...plan });
const rulesOf = ({ findings }: Recording) => findings.map(({ rule }) => rule);
const gravestOf = ({ findings }: Recording) =>
  findings.filter(({ severity }) => severity !== "note").map(({ message }) => message);

/** Keeps all processors busy with other work until it is told to stop. */
function keepBusy(): () => void {
  const busy = cpus().flatMap(() =>
    [0, 1].map(() => spawn(process.execPath, ["-e", "for (;;);"], { stdio: "ignore" })),
  );
  return () => busy.forEach((child) => child.kill("SIGKILL"));
}

describe("a page is hung by what its own processes used", () => {
  it("not because the machine is busy", { timeout: 180_000 }, async () => {
    const rest = keepBusy();
    try {
      // Three seconds of work, which takes five times as long here.
      const work = `<h1>hello</h1><script>setTimeout(() => { let s = 0; for (let i = 0; i < 3e9; i++) s += i; document.body.append(s) }, 500)</script>`;
      const { outcome } = await recordForTest(asPage(work), {}, { frameLimitMs: 6000 });
      expect(outcome).toBe("ok");
    } finally {
      rest();
    }
  });

  it("not because it was kept from running for a while", { timeout: 60_000 }, async () => {
    const recording = record("<h1>hello</h1><script>setInterval(() => document.body.append('.'), 100)</script>");
    await sleep(700);
    for (const signal of ["SIGSTOP", "SIGCONT"] as const) {
      for (const pid of listBrowserProcesses()) {
        try {
          process.kill(pid, signal);
        } catch {
          // It ended in between.
        }
      }
      await sleep(5000);
    }
    expect((await recording).outcome).toBe("ok");
  });

  it("not because a worker has honest work of several seconds", { timeout: 120_000 }, async () => {
    const code = "let sum = 0; for (let i = 0; i < 3e8; i++) sum += i; postMessage(sum)";
    const { outcome } = await record(
      `<h1>Working</h1><script>new Worker(URL.createObjectURL(new Blob([${JSON.stringify(code)}])))</script>`,
    );
    expect(outcome).toBe("ok");
  });

  it("and dialogs in a row are counted, not taken for a loop", async () => {
    const recording = await record(
      `<h1>Hello</h1><script>setTimeout(() => { for (let i = 0; i < 60; i++) alert(i) }, 300)</script>`,
    );
    expect(recording.outcome).toBe("ok");
    expect(rulesOf(recording)).toContain("dialog");
  });
});

function listBrowserProcesses(): number[] {
  return readdirSync("/proc")
    .filter((pid) => /^\d+$/.test(pid))
    .map(Number)
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("tourney-browser-");
      } catch {
        return false;
      }
    });
}

describe("inputs that are tried", () => {
  const app = { kind: "app" as const };

  it.each([
    ["a link", `<h1>Page</h1><a href="other.html">Other</a> <button onclick="this.textContent='done'">Go</button>`],
    ["a button that goes elsewhere", `<button onclick="location='http://elsewhere.example/'">Leave</button>`],
    ["a button that loads the page again", `<button onclick="location.reload()">New game</button><p id="n"></p>`],
    ["a form with an action", `<form action="/save"><input aria-label="Name"><button>Save</button></form>`],
    ["a form that is posted to itself", `<form method="post"><input aria-label="Name"><button>Save</button></form>`],
    ["a button that opens a window", `<button onclick="window.open('http://elsewhere.example/')">Open</button>`],
  ])("end no recording: %s", async (_name, body) => {
    const recording = await record(body, app);
    expect(recording.outcome).toBe("ok");
    expect(recording.frames).toHaveLength(5);
    expect(gravestOf(recording)).toEqual([]);
  });

  it("count what leads somewhere as an answer, and not what is a link", async () => {
    const { controls } = await record(
      `<a href="other.html">Other</a><button onclick="location='other.html'">Leave</button><button>Dead</button>`,
      app,
    );
    expect(controls).toEqual([
      { control: "button “Leave”", state: "answers" },
      { control: "button “Dead”", state: "dead" },
    ]);
  });

  it("are the keys a game listens for, and no click that nothing listens to", async () => {
    const body = `<canvas id="c" width="400" height="200"></canvas><script>
      const g = c.getContext("2d"); let x = 0; const draw = () => { g.clearRect(0, 0, 400, 200); g.fillRect(x, 50, 40, 40); }; draw();
      onkeydown = (e) => { if (e.key === "d") { x += 50; draw(); } };</script>`;
    const recording = await record(body, { kind: "game" });
    expect(recording.controls).toEqual([{ control: "key d", state: "answers" }]);
    expect(gravestOf(recording)).toEqual([]);
  });

  it("move over what follows the pointer, still or moving by itself, and owes no key an answer", async () => {
    const body = (drift: string) => `<canvas id="c" width="400" height="200"></canvas><script>
      const g = c.getContext("2d"); let x = 0, n = 0; onmousemove = (e) => { x = e.clientX; }; onkeydown = () => {};
      const draw = () => { g.clearRect(0, 0, 400, 200); g.fillRect(x, 50 + ${drift}, 40, 40); requestAnimationFrame(draw); }; draw();</script>`;
    for (const drift of ["0", "(n++ % 60)"]) {
      const recording = await record(body(drift), { kind: "game", seconds: 5 });
      expect(recording.controls.find(({ control }) => control.startsWith("the pointer over"))?.state).toBe("answers");
      expect(gravestOf(recording)).toEqual([]);
    }
  });

  it("press what is no control by its role and listens for a click", async () => {
    const body = `<div id="d" style="position:absolute;left:60px;top:40px;width:90px;height:60px;background:#c30"></div><script>
      d.addEventListener("click", () => { d.style.background = "#03c"; });</script>`;
    const recording = await record(body, { kind: "game" });
    expect(recording.controls).toEqual([{ control: "a click at 105, 70", state: "answers" }]);
    expect(gravestOf(recording)).toEqual([]);
  });

  it("drag what can be dragged, and tick what can be ticked", async () => {
    const drag = `<div id="d" style="position:absolute;left:50px;top:50px;width:80px;height:80px;background:#c30"></div><script>
      let at = null; d.onpointerdown = (e) => { at = e.clientX; }; onpointermove = (e) => { if (at !== null) d.style.left = e.clientX + "px"; }; onpointerup = () => { at = null; };</script>`;
    const dragged = await record(drag, app);
    expect(dragged.controls.map(({ state }) => state)).toContain("answers");
    expect(gravestOf(dragged)).toEqual([]);
    const ticked = await record(
      `<label><input type="checkbox"> Tea</label><label><input type="checkbox"> Milk</label>`,
      app,
    );
    expect(ticked.controls.map(({ state }) => state)).toEqual(["answers", "answers"]);
    expect(gravestOf(ticked)).toEqual([]);
  });

  it("leave a page that goes by itself to its verdict, with its frames and its text until then", async () => {
    const body = `<h1>Soon gone</h1><button onclick="this.textContent='x'">Go</button><script>setTimeout(() => { location = "http://elsewhere.example/"; }, 3000)</script>`;
    const recording = await record(body, app);
    expect(recording.outcome).toBe("navigated");
    expect(recording.frames.length).toBeGreaterThan(2);
    expect(recording.shownText).toContain("Soon gone");
    const led = await record(`<meta http-equiv="refresh" content="2;url=http://elsewhere.example/"><h1>Soon gone</h1>`);
    expect(led).toMatchObject({ outcome: "navigated", shownText: "Soon gone" });
  });

  it("do not count a page as gone when it replaces its own text by document.write", async () => {
    const { outcome, shownText } = await record(
      `<h1>Before</h1><script>setTimeout(() => { document.open(); document.write("<h1>After</h1>"); document.close(); }, 500)</script>`,
    );
    expect({ outcome, shownText }).toEqual({ outcome: "ok", shownText: "After" });
  });
});

describe("what a suite's inputs do", () => {
  const log = `<p id="p">-</p><script>for (const type of ["keydown", "dblclick", "contextmenu", "paste", "touchstart", "touchend"])
    addEventListener(type, (e) => { if (!["Control", "Shift"].includes(e.key)) p.textContent += [type, e.key, e.code, e.keyCode, e.ctrlKey, e.clipboardData?.getData("text")].join(" ") + ";"; e.preventDefault(); }, { passive: false })</script>`;
  const said = async (step: object) =>
    (await record(log, { walkthrough: [{ atMs: 500, ...step }] as never })).shownText;

  it.each([
    [{ key: "Control+z" }, "keydown z KeyZ 90 true"],
    [{ key: "Delete" }, "keydown Delete Delete 46 false"],
    [{ key: "?" }, "keydown ? Slash 191 false"],
    [{ key: "F2" }, "keydown F2 F2 113 false"],
    [{ click: { x: 100, y: 100 }, with: "double" }, "dblclick"],
    [{ click: { x: 100, y: 100 }, with: "right" }, "contextmenu"],
    [{ paste: "some text" }, "paste some text"],
    [{ tap: { x: 100, y: 100 } }, "touchstart"],
    [{ swipe: { from: { x: 100, y: 100 }, to: { x: 200, y: 100 } } }, "touchend"],
  ])("is what a person's would do: %j", async (step, expected) => {
    expect(await said(step)).toContain(expected);
  });

  it("pastes into a field, and loads the page again", async () => {
    const field = `<textarea id="t" autofocus></textarea>`;
    const steps = [
      { atMs: 300, click: { x: 20, y: 20 } },
      { atMs: 700, paste: "pasted" },
    ];
    expect((await record(field, { walkthrough: steps })).shownText).toContain("pasted");
    const again = await record(
      `<p id="p">first</p><script>setTimeout(() => { p.textContent = "changed" }, 200)</script>`,
      {
        walkthrough: [{ atMs: 3900, reload: true }],
      },
    );
    expect(again).toMatchObject({ outcome: "ok", shownText: "first" });
  });

  it("tells what is looked for and not there", async () => {
    const recording = await record("<h1>Hello</h1>", {
      walkthrough: [{ atMs: 500, click: { role: "button", name: "Start" } }],
    });
    expect(recording.findings).toMatchObject([
      { rule: "missing_control", message: "There is no button called “Start”" },
    ]);
  });

  it("does not blame a page for text that had nowhere to go, and takes one kind of field for another", async () => {
    const steps = [
      { atMs: 500, click: { role: "searchbox", name: "Search" } },
      { atMs: 1200, type: "storm" },
    ];
    const without = await record("<h1>Hello</h1>", { walkthrough: steps });
    expect(rulesOf(without)).toEqual(["missing_control"]);
    const field = `<input placeholder="search"><p id="p"></p><script>oninput = (e) => { p.textContent = "for " + e.target.value; }</script>`;
    expect((await record(field, { walkthrough: steps })).shownText).toContain("for storm");
  });

  it("reaches what is further down the page", async () => {
    const { steps } = await record(
      `<div style="height:2000px"></div><button onclick="this.textContent='done'">Far</button>`,
      {
        walkthrough: [{ atMs: 900, click: { name: "Far" } }],
      },
    );
    expect(steps[0]!.effect).toBe("changed");
  });
});

describe("files of its own", () => {
  // A red square of 2 by 2 pixels.
  const PNG = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAEElEQVR4nGP4z8AARAwQCgAf7gP9i18U1AAAAABJRU5ErkJggg==",
    "base64",
  );

  it("taint no canvas", async () => {
    const recording = await record(
      `<p id="p">-</p><img id="i" src="red.png"><canvas id="c"></canvas><script>onload = () => { const g = c.getContext("2d"); g.drawImage(i, 0, 0); p.textContent = g.getImageData(0, 0, 1, 1).data[0]; }</script>`,
      {},
      { "red.png": PNG },
    );
    expect(recording.shownText).toBe("255");
    expect(rulesOf(recording)).not.toContain("exception");
  });

  it("come at once where a script waits for them", async () => {
    const { outcome, shownText } = await record(
      `<p id="p">-</p><script>setTimeout(() => { const x = new XMLHttpRequest(); x.open("GET", "data.json", false); x.send(); p.textContent = x.responseText; }, 500)</script>`,
      {},
      { "data.json": '"boats"' },
    );
    expect({ outcome, shownText }).toEqual({ outcome: "ok", shownText: '"boats"' });
  });
});

describe("what follows from a library that is not on the shelf", () => {
  it("is told from what the page does wrong", async () => {
    const recording = await record(
      `<script src="https://cdn.jsdelivr.net/npm/knots@3/knots.js"></script><script>Knots.tie()</script>`,
    );
    expect(recording.findings.filter(({ severity }) => severity === "error")).toEqual([]);
    expect(recording.findings.find(({ rule }) => rule === "exception")!.followsFrom).toBe(
      "knots 3 is not on the shelf",
    );
    expect(recording.findings.find(({ rule }) => rule === "blank")!.followsFrom).toBe("knots 3 is not on the shelf");
  });
});
