import type { FindingRule, HungIn, RenderOutcome } from "@tourney/core/contract";

/** A page that is out to break its recorder, or an honest one that a suspicious recorder would break. */
export interface OddPage {
  name: string;
  /** What stands in its only file. */
  page: string | Buffer;
  outcome: RenderOutcome;
  hungIn?: HungIn;
  /** Findings that must be there. */
  finds?: FindingRule[];
  /** Findings that must not be there; an honest page has no errors at all. */
  lacks?: FindingRule[];
  isHonest?: boolean;
}

const html = (body: string) => `<!doctype html><html lang="en"><title>Page</title><body>${body}</body></html>`;
const script = (code: string) => html(`<h1>Page</h1><script>${code}</script>`);
/** Shows what went well, so that a page that was kept from something is seen to be. */
const honest = (code: string) =>
  html(`<h1 id="said">Waiting</h1><script>const say = (text) => { said.textContent = text; console.log(text); };
    const check = async (run) => { try { say(await run() ? "worked" : "did not work"); } catch (error) { say("did not work: " + error); } };
    ${code}</script>`);

const HANGS: OddPage[] = [
  { name: "loops while it loads", page: script("for (;;);"), outcome: "hung", hungIn: "load" },
  { name: "loops in a timer", page: script("setTimeout(() => { for (;;); }, 300)"), outcome: "hung", hungIn: "timer" },
  { name: "loops in a frame", page: script("requestAnimationFrame(() => { for (;;); })"), outcome: "hung" },
  {
    name: "loops in a worker",
    page: script("new Worker(URL.createObjectURL(new Blob(['for (;;);'])))"),
    outcome: "hung",
    hungIn: "worker",
  },
  {
    name: "queues microtasks for ever",
    page: script("setTimeout(() => { const go = () => { queueMicrotask(go); }; go(); }, 200)"),
    outcome: "hung",
  },
  {
    name: "backtracks for ever",
    page: script("setTimeout(() => /^(a+)+$/.test('a'.repeat(60) + 'b'), 200)"),
    outcome: "hung",
  },
  {
    name: "loops in a frame without an origin",
    page: html(`<iframe sandbox="allow-scripts" srcdoc="<script>for (;;);</script>"></iframe>`),
    outcome: "hung",
  },
  {
    name: "loops in a getter that the console reads",
    page: script(
      "setTimeout(() => { const o = {}; Object.defineProperty(o, 'x', { enumerable: true, get() { for (;;); } }); console.log(JSON.stringify(o)); }, 200)",
    ),
    outcome: "hung",
  },
  {
    name: "opens dialogs without end",
    page: script("setTimeout(() => { for (;;) alert('again'); }, 200)"),
    outcome: "hung",
    finds: ["dialog"],
  },
];

const MEMORY: OddPage[] = [
  {
    name: "fills the heap with arrays",
    page: script(
      "const all = []; setInterval(() => { for (let i = 0; i < 50; i++) all.push(new Array(1e5).fill(i + all.length)); }, 20)",
    ),
    outcome: "memory",
  },
  {
    name: "fills memory outside the heap",
    page: script(
      "const all = []; setInterval(() => { for (let i = 0; i < 8; i++) all.push(new Uint8Array(32e6).fill(i + 1)); }, 40)",
    ),
    outcome: "memory",
  },
  {
    name: "doubles a text",
    page: script(
      "let text = 'x'; const all = []; setInterval(() => { text += text; if (text.length > 2e8) { all.push([...text.slice(0, 5e6)]); text = text.slice(0, 1e8); } }, 30)",
    ),
    outcome: "memory",
  },
  {
    name: "draws on ever more canvases",
    page: script(
      "const all = []; setInterval(() => { for (let i = 0; i < 4; i++) { const c = document.createElement('canvas'); c.width = c.height = 4000; const g = c.getContext('2d', { willReadFrequently: true }); g.fillRect(0, 0, 4000, 4000); g.getImageData(0, 0, 1, 1); all.push(c); } }, 40)",
    ),
    outcome: "memory",
  },
];

const NAVIGATION: OddPage[] = [
  {
    name: "goes to another file",
    page: script("setTimeout(() => { location.href = 'other.html'; }, 300)"),
    outcome: "navigated",
    finds: ["navigated"],
  },
  {
    name: "goes to another host",
    page: script("setTimeout(() => { location = 'http://elsewhere.example/'; }, 300)"),
    outcome: "navigated",
  },
  { name: "reloads itself", page: script("setTimeout(() => location.reload(), 300)"), outcome: "navigated" },
  {
    name: "is led away by a meta tag",
    page: html(`<meta http-equiv="refresh" content="1;url=http://elsewhere.example/"><h1>Page</h1>`),
    outcome: "navigated",
  },
  {
    name: "goes to an empty page",
    page: script("setTimeout(() => { location.href = 'about:blank'; }, 300)"),
    outcome: "navigated",
  },
  {
    name: "goes to a page of its own making",
    page: script(
      "setTimeout(() => { location.href = URL.createObjectURL(new Blob(['<h1>Made</h1>'], { type: 'text/html' })); }, 300)",
    ),
    outcome: "navigated",
  },
  {
    name: "sends a form elsewhere",
    page: html(
      `<form action="http://elsewhere.example/" id="f"><input name="a"></form><script>setTimeout(() => f.submit(), 300)</script>`,
    ),
    outcome: "navigated",
  },
  {
    name: "tries to lead the window away",
    page: script(
      "setTimeout(() => { try { top.location = 'http://elsewhere.example/'; } catch (error) { document.body.append(String(error)); } }, 300)",
    ),
    outcome: "ok",
  },
  {
    name: "opens windows",
    page: script("setTimeout(() => { for (let i = 0; i < 5; i++) open('http://elsewhere.example/' + i); }, 300)"),
    outcome: "ok",
    finds: ["popup"],
  },
  {
    name: "clicks on a link to a new window",
    page: html(
      `<a id="a" href="http://elsewhere.example/" target="_blank">Out</a><script>setTimeout(() => a.click(), 300)</script>`,
    ),
    outcome: "ok",
    finds: ["popup"],
  },
  { name: "closes its window", page: script("setTimeout(() => { close(); top.close(); }, 300)"), outcome: "ok" },
  {
    name: "downloads a file",
    page: html(
      `<a id="a" download="x.bin" href="data:application/octet-stream;base64,AAAA">Get</a><script>setTimeout(() => a.click(), 300)</script>`,
    ),
    outcome: "ok",
  },
  { name: "prints", page: script("setTimeout(() => print(), 300)"), outcome: "ok" },
];

const DIALOGS: OddPage[] = [
  {
    name: "asks and waits for an answer",
    page: html(
      `<h1 id="h">Page</h1><script>setTimeout(() => { h.textContent = [alert('a'), confirm('b'), prompt('c')].join(); }, 300)</script>`,
    ),
    outcome: "ok",
    finds: ["dialog"],
  },
  {
    name: "holds on to whoever leaves",
    page: script("onbeforeunload = () => 'stay'; setTimeout(() => { location.href = 'other.html'; }, 300)"),
    outcome: "navigated",
  },
  {
    name: "wants the whole screen and the pointer",
    page: script(
      "addEventListener('click', () => { document.documentElement.requestFullscreen(); document.body.requestPointerLock(); }); setTimeout(() => document.documentElement.requestFullscreen().catch(() => {}), 200)",
    ),
    outcome: "ok",
  },
  {
    name: "asks for everything that needs leave",
    page: script(
      "navigator.geolocation?.getCurrentPosition(() => {}, () => {}); Notification?.requestPermission?.(); navigator.mediaDevices?.getUserMedia({ audio: true }).catch(() => {}); navigator.clipboard?.readText().catch(() => {});",
    ),
    outcome: "ok",
  },
];

const FLOODS: OddPage[] = [
  {
    name: "talks without end",
    page: script("setInterval(() => { for (let i = 0; i < 200; i++) console.log('x'.repeat(2000)); }, 20)"),
    outcome: "ok",
  },
  {
    name: "throws without end",
    page: script("setInterval(() => { throw new Error('again ' + Math.random()); }, 1)"),
    outcome: "ok",
    finds: ["exception"],
  },
  {
    name: "asks the network without end",
    page: script(
      "setInterval(() => { for (let i = 0; i < 20; i++) fetch('http://elsewhere.example/' + Math.random()).catch(() => {}); }, 50)",
    ),
    outcome: "ok",
    finds: ["blocked_request"],
  },
  {
    name: "has a document of a hundred thousand elements",
    page: script("for (let i = 0; i < 1e5; i++) document.body.append(document.createElement('i'))"),
    outcome: "ok",
  },
  { name: "frames itself", page: html(`<h1>Page</h1><iframe src="page.html"></iframe>`), outcome: "ok" },
  {
    name: "starts many workers",
    page: script(
      "for (let i = 0; i < 20; i++) new Worker(URL.createObjectURL(new Blob(['setInterval(() => postMessage(1), 10)'])))",
    ),
    outcome: "ok",
  },
  {
    name: "changes its address without end",
    page: script("let i = 0; setInterval(() => { try { location.hash = i++; } catch {} }, 1)"),
    outcome: "ok",
  },
];

const REDEFINING: OddPage[] = [
  {
    name: "redefines what a recorder would use",
    page: script(
      "JSON.stringify = () => { throw 1; }; Array.prototype.map = () => { throw 2; }; Object.defineProperty(document, 'images', { get() { for (;;); } }); Math.imul = () => { throw 3; }; globalThis.getComputedStyle = () => { throw 4; }; Document.prototype.querySelectorAll = () => { throw 5; }; console.log = null;",
    ),
    outcome: "ok",
    lacks: ["exception"],
  },
  {
    name: "stops every event at the window",
    page: script(
      "for (const type of ['keydown', 'mousedown', 'click', 'message']) addEventListener(type, (event) => { event.stopImmediatePropagation(); event.preventDefault(); }, true)",
    ),
    outcome: "ok",
  },
  {
    name: "removes its own document",
    page: script("setTimeout(() => document.documentElement.remove(), 500)"),
    outcome: "ok",
  },
  {
    name: "writes its document anew",
    page: script("setTimeout(() => { document.open(); document.write('<h1>Anew</h1>'); document.close(); }, 500)"),
    outcome: "ok",
    lacks: ["navigated", "blank"],
  },
  {
    name: "shows itself only to people",
    page: html(
      `<script>document.write(navigator.webdriver || /Headless/.test(navigator.userAgent) || document.hidden || !innerWidth || navigator.languages.length === 0 ? "" : "<h1>For people</h1>")</script>`,
    ),
    outcome: "ok",
    lacks: ["blank"],
  },
  {
    name: "shows itself only in a frame",
    page: html(`<script>document.write(top === self ? "" : "<h1>Framed</h1>")</script>`),
    outcome: "ok",
    lacks: ["blank"],
  },
];

const HONEST: OddPage[] = [
  {
    name: "draws late",
    page: html(`<script>setTimeout(() => { document.body.innerHTML = "<h1>Late</h1>"; }, 2500)</script>`),
    outcome: "ok",
    lacks: ["blank"],
  },
  {
    name: "evaluates text",
    page: honest("check(() => eval('1 + 1') === 2 && new Function('return 3')() === 3)"),
    outcome: "ok",
  },
  {
    name: "stores a high score",
    page: honest(
      "check(() => { localStorage.setItem('best', 7); sessionStorage.now = 3; document.cookie = 'a=1; path=/'; return localStorage.best === '7' && 'best' in localStorage && Object.keys(sessionStorage).join() === 'now' && sessionStorage.length === 1 && document.cookie === 'a=1' && localStorage.getItem('no') === null; })",
    ),
    outcome: "ok",
  },
  {
    name: "needs a secure context",
    page: honest(
      "check(() => isSecureContext && crypto.randomUUID().length === 36 && crypto.subtle.digest('SHA-256', new Uint8Array(1)))",
    ),
    outcome: "ok",
  },
  {
    name: "works in a worker",
    page: honest(
      "check(() => new Promise((resolve) => { const w = new Worker(URL.createObjectURL(new Blob(['onmessage = (e) => postMessage(e.data * 2)']))); w.onmessage = (e) => resolve(e.data === 42); w.postMessage(21); }))",
    ),
    outcome: "ok",
  },
  {
    name: "imports a module that it made",
    page: honest("check(async () => (await import('data:text/javascript,export default 5')).default === 5)"),
    outcome: "ok",
  },
  {
    name: "compiles WebAssembly",
    page: honest(
      "check(async () => (await WebAssembly.instantiate(new Uint8Array([0, 97, 115, 109, 1, 0, 0, 0]))).instance !== undefined)",
    ),
    outcome: "ok",
  },
  {
    name: "is in quirks mode",
    page: "<body bgcolor=white><h1>Old</h1><script>document.body.append(document.compatMode)</script>",
    outcome: "ok",
  },
  {
    name: "has bytes that are no text",
    page: Buffer.concat([
      Buffer.from("<!doctype html><html lang=en><title>x</title><h1>Bytes "),
      Buffer.from([0xff, 0xfe, 0xc3, 0x28, 0x80]),
      Buffer.from("</h1>"),
    ]),
    outcome: "ok",
  },
  {
    name: "is tall",
    page: html(`<h1>Tall</h1><div style="height: 9000px; background: linear-gradient(#eee, #333)"></div>`),
    outcome: "ok",
    finds: ["tall_page"],
  },
  {
    name: "is an SVG drawing with a declaration",
    page: `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="10" height="10" fill="#c33"/></svg>`,
    outcome: "ok",
    lacks: ["blank"],
  },
  { name: "has no end tags", page: "<title>x</title><p>One<p>Two<table><tr><td>Three", outcome: "ok" },
  {
    name: "draws by WebGL",
    page: html(
      `<canvas id="c" width="300" height="200"></canvas><script>const g = c.getContext("webgl", { preserveDrawingBuffer: true }); g.clearColor(0.8, 0.2, 0.1, 1); g.clear(g.COLOR_BUFFER_BIT); if (!g) throw new Error("no WebGL")</script>`,
    ),
    outcome: "ok",
    lacks: ["blank"],
  },
  {
    name: "plays a sound",
    page: honest(
      "check(async () => { const a = new AudioContext(); const o = a.createOscillator(); o.connect(a.destination); o.start(); return true; })",
    ),
    outcome: "ok",
  },
  {
    name: "submits a form to itself",
    page: html(
      `<form id="f"><input name="a" aria-label="A"><button>Go</button></form><output id="o"></output><script>f.addEventListener("submit", (e) => { e.preventDefault(); o.textContent = "sent"; }); setTimeout(() => f.requestSubmit(), 300)</script>`,
    ),
    outcome: "ok",
    lacks: ["navigated"],
  },
].map((page) => ({ isHonest: true, ...page }) as OddPage);

export const ODD_PAGES: readonly OddPage[] = [
  ...HANGS,
  ...MEMORY,
  ...NAVIGATION,
  ...DIALOGS,
  ...FLOODS,
  ...REDEFINING,
  ...HONEST,
];
