import { readdirSync, readFileSync } from "node:fs";
import { createServer } from "node:net";
import type { AddressInfo } from "node:net";
import type { Recording } from "@tourney/core/contract";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { BrowserPool } from "../browser/browser-pool.js";
import { ODD_PAGES, type OddPage } from "../../test-support/hostile-pages.js";
import { recordForTest } from "../../test-support/record-for-test.js";

/** As in the worker, each may get a browser in which another one was: what they do to it is not to reach their neighbours. */
const pool = new BrowserPool();
const PLAN = { viewport: { width: 800, height: 500 }, seconds: 4, frames: 6 };

function record({ page, name }: OddPage): Promise<Recording> {
  const file = name.includes("SVG") ? "page.svg" : "page.html";
  return recordForTest({ [file]: page }, PLAN, { frameLimitMs: 5000, pool });
}

/** Processes of any browser that were not there before. */
function listBrowsers(): string[] {
  return readdirSync("/proc").filter((pid) => {
    try {
      return /^\d+$/.test(pid) && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("tourney-browser-");
    } catch {
      // It ended in between.
      return false;
    }
  });
}

describe.concurrent("a page that", () => {
  it.for([...ODD_PAGES])("$name", { timeout: 300_000 }, async (odd, { expect }) => {
    const { outcome, hungIn, findings, console: log } = await record(odd);
    const rules = findings.map(({ rule }) => rule);
    expect({ outcome, ...(odd.hungIn === undefined ? {} : { hungIn }) }).toEqual({
      outcome: odd.outcome,
      ...(odd.hungIn === undefined ? {} : { hungIn: odd.hungIn }),
    });
    for (const rule of odd.finds ?? []) expect(rules).toContain(rule);
    for (const rule of odd.lacks ?? []) expect(rules).not.toContain(rule);
    if (odd.isHonest === true) {
      expect(findings.filter(({ severity }) => severity === "error")).toEqual([]);
      expect(log.filter(({ text }) => text.startsWith("did not work"))).toEqual([]);
    }
  });
});

describe("after them all", () => {
  it("nothing of their browsers is alive", async () => {
    await pool.end();
    expect(listBrowsers()).toEqual([]);
  });
});

describe("the network", () => {
  let connections = 0;
  const listener = createServer((socket) => {
    connections++;
    socket.destroy();
  });
  beforeAll(() => new Promise<void>((resolve) => listener.listen(0, "127.0.0.1", resolve)));
  afterAll(() => new Promise((resolve) => listener.close(resolve)));

  it("is not reached by any of the ways out that a page has", async () => {
    const at = `127.0.0.1:${(listener.address() as AddressInfo).port}`;
    const page = `<!doctype html><link rel="preload" as="script" href="http://${at}/preload"><link rel="dns-prefetch" href="http://${at}">
      <style>@import "http://${at}/style"; @font-face { font-family: f; src: url(http://${at}/font) } h1 { font-family: f; background: url(http://${at}/background) }</style>
      <h1>Hostile</h1><iframe src="http://${at}/frame"></iframe><object data="http://${at}/object"></object><embed src="http://${at}/embed">
      <video src="http://${at}/video" autoplay></video><a id="ping" href="#" ping="http://${at}/ping">ping</a><script>
      const worker = (code) => new Worker(URL.createObjectURL(new Blob([code])));
      for (const go of [
        () => fetch("http://${at}/fetch", { mode: "no-cors", keepalive: true }),
        () => new WebSocket("ws://${at}/socket"),
        () => navigator.sendBeacon("http://${at}/beacon", "x"),
        () => new EventSource("http://${at}/events"),
        () => { new Image().src = "http://${at}/image"; },
        () => open("http://${at}/popup"),
        () => worker("fetch('http://${at}/worker')"),
        () => worker("importScripts('http://${at}/import')"),
        () => worker("new WebSocket('ws://${at}/worker-socket')"),
        () => import("http://${at}/module"),
        () => { const x = new XMLHttpRequest(); x.open("POST", "http://${at}/xhr"); x.send("x"); },
        () => { const p = new RTCPeerConnection({ iceServers: [{ urls: "turn:${at}?transport=tcp", username: "a", credential: "b" }] }); p.createDataChannel("x"); p.createOffer().then((o) => p.setLocalDescription(o)); },
        () => { const f = document.createElement("iframe"); document.body.append(f); new f.contentWindow.WebSocket("ws://${at}/framed"); },
        () => { const s = document.createElement("script"); s.type = "speculationrules"; s.textContent = JSON.stringify({ prefetch: [{ source: "list", urls: ["http://${at}/speculated"] }] }); document.head.append(s); },
        () => { const l = document.createElement("link"); l.rel = "preconnect"; l.href = "http://${at}"; document.head.append(l); },
        () => ping.click(),
        () => new WebTransport("https://${at}/transport"),
        () => CSS.paintWorklet?.addModule("http://${at}/worklet"),
      ]) { try { Promise.resolve(go()).catch(() => {}); } catch {} }
    </script>`;
    const { outcome } = await record({ name: "calls out", page, outcome: "ok" });
    expect(outcome).toBe("ok");
    expect(connections).toBe(0);
  });
});
