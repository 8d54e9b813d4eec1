import type { FindingRule, RecordingPlan } from "@tourney/core/contract";
import { ODD_PAGES } from "../test-support/hostile-pages.js";

/** A page that a person has said of what a rule should find on it. */
export interface LabelledPage {
  page: string;
  /** How it is recorded, besides what all are. */
  plan?: Partial<RecordingPlan>;
}

export interface LabelledSet {
  rule: FindingRule;
  /** Pages on which the rule should find something. */
  bad: readonly LabelledPage[];
  /** Pages that come near and on which it should not. */
  good: readonly LabelledPage[];
}

const doc = (body: string, head = "") =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Page</title>${head}</head><body>${body}</body></html>`;
const pages = (bodies: readonly string[], plan?: LabelledPage["plan"]): LabelledPage[] =>
  bodies.map((body) => ({ page: doc(body), ...(plan ? { plan } : {}) }));
const js = (code: string) => `<script>${code}</script>`;
const canvas = (code: string, setUp = "") =>
  `<canvas id="c" width="600" height="300"></canvas>${js(`const g = c.getContext("2d"); ${setUp} let n = 0; const draw = (t) => { n++; ${code} requestAnimationFrame(draw); }; requestAnimationFrame(draw);`)}`;
const MOVING = canvas('g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);');
const MOVES = { motionExpected: true };
const GAME = { motionExpected: true, kind: "game" } as const;
const APP = { kind: "app" } as const;
const odd = (test: RegExp): LabelledPage[] =>
  ODD_PAGES.filter(({ name, page }) => test.test(name) && typeof page === "string").map(({ page }) => ({ page: page as string }));

const BLANK: LabelledSet = {
  rule: "blank",
  bad: pages([
    "",
    '<div id="app"></div>',
    '<canvas width="400" height="300"></canvas>',
    '<p style="color: #fff">White on white</p>',
    js("throw new Error('at once')"),
    '<h1 style="opacity: 0">There and not to be seen</h1>',
    '<body style="background: #234"><div style="position: absolute; left: -900px">Outside</div>',
    js("setTimeout(() => { document.body.innerHTML = '<h1 hidden>Late</h1>'; }, 1000)"),
  ]),
  good: pages([
    "<p>One short line</p>",
    js("setTimeout(() => { document.body.innerHTML = '<h1>Late</h1>'; }, 2600)"),
    '<p style="color: #eee">Pale</p>',
    '<canvas id="c" width="400" height="300"></canvas>' + js('c.getContext("2d").fillRect(10, 10, 30, 30)'),
    '<svg width="20" height="20"><circle cx="10" cy="10" r="9"/></svg>',
    '<body style="background: linear-gradient(#123, #89a); height: 90vh">',
    '<hr style="border: 0; border-top: 2px solid #000">',
    "<p>.</p>",
  ]),
};

const STILL: LabelledSet = {
  rule: "still",
  bad: pages(
    [
      "<h1>Press start</h1>",
      canvas('g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300);'),
      "<p>A drawing that was to move</p><svg width=200 height=200><circle cx=90 cy=90 r=80 /></svg>",
      `<style>h1 { animation: go 2s } @keyframes went { to { transform: translateX(90px) } }</style><h1>Misnamed</h1>`,
      `<h1>Stopped</h1>${js("function frame() { nothing.here(); requestAnimationFrame(frame); } requestAnimationFrame(frame)")}`,
      `<style>h1 { animation: go 2s paused } @keyframes go { to { transform: translateX(90px) } }</style><h1>Paused</h1>`,
      `<h1>Waits</h1>${js("addEventListener('keydown', () => setInterval(() => document.body.append('x'), 100))")}`,
      canvas('g.clearRect(0, 0, 600, 300); g.fillRect(40 + 0 * t, 40, 100, 100);'),
    ],
    MOVES,
  ),
  good: [
    ...pages(
      [
        MOVING,
        `<style>h1 { animation: go 1s infinite alternate } @keyframes go { to { transform: translateX(90px) } }</style><h1>Goes</h1>`,
        `<svg width="300" height="100"><circle cy="50" r="30"><animate attributeName="cx" from="40" to="260" dur="3s" repeatCount="indefinite"/></circle></svg>`,
        `<p id="p">0</p>${js("setInterval(() => { p.textContent = Math.round(performance.now()); }, 400)")}`,
        `<h1 id="h">Late</h1>${js("setTimeout(() => { h.style.marginLeft = '80px'; }, 2400)")}`,
        `<div id="d" style="width: 60px; height: 60px; background: #c33; transition: transform 2s"></div>${js("setTimeout(() => { d.style.transform = 'translateX(200px)'; }, 300)")}`,
        `<div id="d" style="width: 60px; height: 60px; background: #c33"></div>${js("d.animate([{ opacity: 1 }, { opacity: 0.2 }], { duration: 900, iterations: Infinity })")}`,
      ],
      MOVES,
    ),
    ...pages(["<h1>Nothing is to move</h1>"]),
  ],
};

const EXCEPTION: LabelledSet = {
  rule: "exception",
  bad: pages([
    `<h1>A</h1>${js("null.x")}`,
    `<h1>A</h1>${js("setTimeout(() => { throw new TypeError('late'); }, 900)")}`,
    `<h1>A</h1>${js("Promise.reject(new Error('nobody minded'))")}`,
    `<h1>A</h1>${js("let a = ;")}`,
    `<h1>A</h1>${js("requestAnimationFrame(function f() { missing(); })")}`,
    `<h1>A</h1>${js("fetch('data.json').then((r) => r.json())")}`,
    `<h1 onclick="x">A</h1>${js("document.querySelector('h1').click(); dispatchEvent(new ErrorEvent('x')); undefinedThing")}`,
    `<h1>A</h1><script type="module">import "./not-there.js"; await Promise.reject("a text");</script>${js("throw 'a bare text'")}`,
  ]),
  good: pages([
    `<h1>A</h1>${js("try { null.x } catch { console.error('caught') }")}`,
    `<h1>A</h1>${js("Promise.reject(new Error('minded')).catch(() => {})")}`,
    `<h1>A</h1>${js("console.error('TypeError: printed only')")}`,
    `<h1>A</h1>${js("onerror = () => true; setTimeout(() => 1, 10)")}`,
    `<h1>A</h1><img alt="gone" src="gone.png">`,
    `<h1>A</h1>${js("console.assert(false, 'said')")}`,
    `<h1>A</h1>${js("fetch('data.json').then((r) => r.json()).catch(() => {})")}`,
    `<h1>A</h1>${js("queueMicrotask(() => console.warn('fine'))")}`,
  ]),
};

const DEAD: LabelledSet = {
  rule: "dead_control",
  bad: [
    ...pages(
      [
        "<h1>Planner</h1><button>Plan</button><button>Clear</button>",
        `<h1 id="h">0</h1><button onclick="h.textContent++">More</button><button>Less</button>`,
        `<style>button:hover, button:focus { background: #fc3; outline: 3px solid #136 }</style><h1>Only its look</h1><button>Go</button><button>Stop</button>`,
        `<h1 id="h">0</h1><button id="b">Count</button>${js("document.querySelector('#missing')?.addEventListener('click', () => h.textContent++)")}<a href="#">Help</a>`,
        `<h1>Tabs</h1><div role="tablist"><button role="tab">One</button><button role="tab">Two</button></div><p>One's text</p>`,
        `<style>h2 { animation: go 1s infinite alternate } @keyframes go { to { transform: translateX(90px) } }</style><h2>Moves by itself</h2><button>Plan</button><button>Clear</button>`,
      ],
      APP,
    ),
    { page: doc(MOVING), plan: GAME },
    { page: doc(MOVING + js("addEventListener('keydown', (e) => console.log(e.key))")), plan: GAME },
  ],
  good: [
    ...pages(
      [
        `<h1 id="h">0</h1><button onclick="h.textContent++">More</button><button onclick="h.textContent--">Less</button>`,
        `<details><summary>More</summary><p>Text</p></details><label><input type="checkbox"> On</label>`,
        `<h1>Tabs</h1><div role="tablist"><button role="tab" onclick="p.textContent = 1">One</button><button role="tab" onclick="p.textContent = 2">Two</button></div><p id="p">0</p>`,
        `<label>Name <input id="i"></label><output id="o"></output>${js("i.oninput = () => { o.textContent = i.value; }")}`,
        `<style>#box { width: 90px; height: 90px; background: #136; transition: transform 0.2s } .on { transform: translateX(200px) }</style><div id="box"></div><button onclick="box.classList.toggle('on')">Move</button>`,
        `<h2 id="t">0</h2><button onclick="speed++; s.textContent = speed">Faster</button><p id="s">1</p>${js("var speed = 1; setInterval(() => { t.textContent = +t.textContent + speed; }, 100)")}`,
      ],
      APP,
    ),
    {
      page: doc(
        canvas(
          'x += d; y += e; g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = jump > t ? "#fff" : "#fc3"; g.fillRect(100 + x + 20 * Math.sin(t / 200), 120 + y, 40, 40);',
          "let x = 0, y = 0, d = 0, e = 0, jump = 0; addEventListener('keydown', ({ key }) => { d = key === 'ArrowRight' ? 1 : key === 'ArrowLeft' ? -1 : 0; e = key === 'ArrowDown' ? 1 : key === 'ArrowUp' ? -1 : 0; if (key === ' ') jump = performance.now() + 900; }); addEventListener('keyup', () => { d = e = 0; }); addEventListener('pointerdown', () => { x += 30; });",
        ),
      ),
      plan: GAME,
    },
    { page: doc("<h1>Nothing to press</h1>"), plan: APP },
  ],
};

const text = (style: string) => `<h1>Title</h1><p style="${style}">Some text that is to be read by people</p>`;
const UNREADABLE: LabelledSet = {
  rule: "unreadable_text",
  bad: pages([
    text("color: #ddd"),
    text("color: #999"),
    text("color: #777; background: #555"),
    text("color: #f66; background: #f00"),
    text("color: rgb(0 0 0 / 30%)"),
    text("background: #123; color: #345"),
    text("opacity: 0.3"),
    `<body style="background: #222; color: #444"><p>Dark on dark</p>`,
  ]),
  good: pages([
    text("color: #000"),
    text("color: #595959"),
    text("background: #123; color: #fff"),
    text("color: #767676"),
    text("font-size: 32px; color: #949494"),
    text("display: none; color: #ddd"),
    `<body style="background: #111; color: #eee"><p>Light on dark</p>`,
    `<h1>Title</h1><button disabled style="color: #bbb">Not now</button>`,
  ]),
};

const OVERFLOW: LabelledSet = {
  rule: "overflow",
  bad: pages([
    `<div style="width: 1500px; background: #eee">A wide table</div>`,
    `<p style="white-space: nowrap">${"A line that never ends ".repeat(20)}</p>`,
    `<p style="width: 120px; overflow: hidden; white-space: nowrap">A text that is longer than its box by far</p>`,
    `<p style="height: 20px; overflow: hidden; width: 200px">A text that has more lines than its box has room for, and more and more</p>`,
    `<body style="overflow: hidden"><button style="position: absolute; left: 760px; width: 200px; text-align: left">Reaches outside</button>`,
    `<table><tr>${"<td style='min-width: 120px'>Cell</td>".repeat(9)}</tr></table>`,
    `<div style="display: flex">${"<button style='flex: none; width: 150px'>Tab</button>".repeat(7)}</div>`,
    `<h1 style="font-size: 160px; white-space: nowrap">Far too large a title</h1>`,
  ]),
  good: pages([
    "<p>Fits</p>",
    `<p style="width: 120px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap">Cut off with an ellipsis, on purpose</p>`,
    `<body style="overflow: hidden"><div style="position: absolute; left: 700px; width: 300px; height: 90px; background: #c33"></div><p>Scenery reaches out</p>`,
    `<div style="width: 200px; overflow: auto"><p style="width: 900px">Can be scrolled by itself</p></div>`,
    `<svg width="900" height="90" style="max-width: 100%"><text x="10" y="40">Drawing</text></svg>`,
    `<nav style="position: fixed; left: 900px; width: 300px">A menu that slides in</nav><p>Page</p>`,
    `<p>${"A long text that wraps. ".repeat(40)}</p>`,
    `<div style="transform: translateX(-40px); width: 200px; background: #eee">Shifted</div>`,
  ]),
};

const MISSING: LabelledSet = {
  rule: "missing_asset",
  bad: pages([
    `<h1>A</h1><img alt="boat" src="boat.png">`,
    `<h1>A</h1><script src="game.js"></script>`,
    `<h1>A</h1><link rel="stylesheet" href="style.css">`,
    `<h1>A</h1><style>h1 { background: url(sea.jpg) }</style>`,
    `<h1>A</h1>${js("fetch('data.json').catch(() => {})")}`,
    `<h1>A</h1>${js("new Image().src = 'sprites/boat.png'")}`,
    `<h1>A</h1><img alt="bad" width="40" height="40" src="data:image/png;base64,AAAA">`,
    `<h1>A</h1><audio src="horn.mp3" autoplay></audio>`,
  ]),
  good: pages([
    "<h1>A</h1>",
    `<h1>A</h1><img alt="dot" src="data:image/gif;base64,R0lGODlhAQABAIAAAP8AAAAAACH5BAAAAAAALAAAAAABAAEAAAICRAEAOw==">`,
    `<h1>A</h1><link rel="icon" href="data:,">`,
    `<h1>A</h1><img alt="drawn" src="data:image/svg+xml,<svg xmlns='http://www.w3.org/2000/svg' width='20' height='20'><rect width='20' height='20'/></svg>">`,
    `<h1>A</h1><a href="other.html">Not followed</a>`,
    `<h1>A</h1><img alt="none yet">`,
    `<h1>A</h1>${js("console.log('boat.png')")}`,
    `<h1>A</h1><template><img src="boat.png"></template>`,
  ]),
};

const remote = (address: string) => `<h1>A</h1><script src="${address}"></script>`;
const LIBRARY: LabelledSet = {
  rule: "library_missing",
  bad: pages([
    remote("https://cdn.jsdelivr.net/npm/halyard-charts@2/dist/halyard.min.js"),
    remote("https://unpkg.com/halyard-charts"),
    remote("https://cdnjs.cloudflare.com/ajax/libs/halyard/1.2.3/halyard.min.js"),
    `<h1>A</h1><script type="module">import "https://esm.sh/halyard@1"</script>`,
    `<h1>A</h1><link rel="stylesheet" href="https://cdn.jsdelivr.net/npm/halyard-css@1/dist/halyard.css">`,
    `<h1>A</h1>${js("import('https://cdn.skypack.dev/halyard').catch(() => {})")}`,
    `<h1>A</h1>${js("const s = document.createElement('script'); s.src = 'https://unpkg.com/halyard@3/late.js'; document.head.append(s)")}`,
    `<h1>A</h1><script type="importmap">{ "imports": { "halyard": "https://ga.jspm.io/npm:halyard@1.0.0/index.js" } }</script><script type="module">import "halyard"</script>`,
  ]),
  good: pages([
    remote("https://elsewhere.example/halyard.js"),
    "<h1>A</h1><p>https://unpkg.com/halyard</p>",
    `<h1>A</h1><a href="https://cdn.jsdelivr.net/npm/halyard">Where it is</a>`,
    `<h1>A</h1><link rel="stylesheet" href="https://fonts.example/css?family=x">`,
    remote("own.js"),
    `<h1>A</h1><img alt="x" src="https://pictures.example/unpkg.com/x.png">`,
    `<h1>A</h1>${js("const halyard = 1")}`,
    MOVING,
  ]),
};

const BLOCKED: LabelledSet = {
  rule: "blocked_request",
  bad: pages([
    remote("https://elsewhere.example/a.js"),
    `<h1>A</h1><img alt="x" src="https://pictures.example/x.png">`,
    `<h1>A</h1><link rel="stylesheet" href="https://fonts.example/css?family=x">`,
    `<h1>A</h1>${js("fetch('https://api.example/data').catch(() => {})")}`,
    `<h1>A</h1>${js("navigator.sendBeacon('https://api.example/seen')")}`,
    `<h1>A</h1><iframe title="x" src="https://elsewhere.example/"></iframe>`,
    `<h1>A</h1><style>h1 { background: url(https://pictures.example/sea.jpg) }</style>`,
    `<h1>A</h1>${js("new Worker(URL.createObjectURL(new Blob(['fetch(\"https://api.example/w\").catch(() => {})'])))")}`,
  ]),
  good: LIBRARY.bad.slice(0, 4).concat(pages(["<h1>A</h1>", MOVING, `<h1>A</h1><a href="https://elsewhere.example/">Out</a>`, `<h1>A</h1>${js("fetch('data:text/plain,x')")}`])),
};

const TALL: LabelledSet = {
  rule: "tall_page",
  bad: pages([
    `<div style="height: 3000px; background: linear-gradient(#fff, #136)">Tall</div>`,
    `<p>${"A long text. ".repeat(1500)}</p>`,
    `<canvas width="400" height="1200"></canvas><p>Below</p>`,
    `<svg width="400" height="2000"><rect width="400" height="2000" fill="#c33"/></svg>`,
    `${"<h2>Section</h2><p>Text</p>".repeat(20)}`,
    `<div style="min-height: 150vh; background: #eee">Half as tall again</div>`,
    `<ul>${"<li>Item</li>".repeat(60)}</ul>`,
    `<style>section { height: 100vh }</style><section>One</section><section>Two</section>`,
  ]),
  good: pages([
    "<p>Short</p>",
    `<div style="height: 100vh; background: #eee">As tall as the window</div>`,
    `<body style="overflow: hidden"><div style="height: 3000px; background: #eee">Cut off on purpose</div>`,
    `<div style="height: 300px; overflow: auto"><div style="height: 3000px">Scrolls by itself</div></div>`,
    `<div style="position: fixed; top: 0; height: 2000px; width: 40px; background: #136"></div><p>A</p>`,
    `<div style="height: 105vh; background: #eee">Hardly taller</div>`,
    `<details><summary>Closed</summary><div style="height: 3000px"></div></details>`,
    MOVING,
  ]),
};

const WRONG: LabelledSet = {
  rule: "goes_wrong",
  bad: pages(
    [
      canvas('g.clearRect(0, 0, 600, 300); g.fillStyle = "#c33"; g.fillRect(50 + t * t / 3000, 50, 200, 200);'),
      canvas('if (n > 90) null.x; g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);'),
      `<h1>Score: <span id="s">0</span></h1>${MOVING}${js("let points; setTimeout(() => { s.textContent = points + 1; }, 700)")}`,
      `<h1>Hello <span id="s"></span></h1>${MOVING}${js("s.append(({}).name)")}`,
      `<h1>Total: <span id="s"></span></h1>${MOVING}${js("s.textContent = 1 / 0")}`,
      `<p id="s"></p>${MOVING}${js("s.textContent = 'Boat ' + {}")}`,
      `<div id="d"><h1>Here at first</h1>${"<p>With a good deal of text.</p>".repeat(8)}</div>${js("setInterval(() => { d.style.marginTop = (performance.now() / 3) + 'px'; }, 30); document.body.style.overflow = 'hidden'")}`,
      canvas('g.fillStyle = "#fff"; g.fillRect(0, 0, 600, 300); x += v; v *= 1.05; g.fillStyle = "#136"; g.fillRect(x, 40, 220, 220);', "let x = 40, v = 1;"),
    ],
    MOVES,
  ),
  good: pages(
    [
      MOVING,
      canvas('g.clearRect(0, 0, 600, 300); g.fillStyle = "#c33"; g.fillRect(50 + (t / 6) % 400, 50, 200, 200);'),
      `<h1>Infinity pool</h1><p>A NaN-free undefined_behaviour</p>${MOVING}`,
      `<h1>Blinks</h1>${canvas('g.clearRect(0, 0, 600, 300); if (Math.floor(t / 700) % 2) g.fillRect(50, 50, 200, 200);')}`,
      `<h1>Ends by itself</h1><style>h1 { animation: go 1.5s both } @keyframes go { to { transform: translateX(200px) } }</style>`,
      `<h1>Throws early and goes on</h1>${js("setTimeout(() => null.x, 100)")}${MOVING}`,
      `<h1>Empties half way</h1><style>h1 { animation: go 3s infinite } @keyframes go { 40%, 60% { opacity: 0 } }</style>`,
      `<p id="p">Waiting</p>${js("setInterval(() => { p.textContent = Math.round(performance.now()); }, 300)")}`,
    ],
    MOVES,
  ),
};

const ACCESSIBILITY: LabelledSet = {
  rule: "accessibility",
  bad: [
    ...pages([
      `<h1>A</h1><button><svg width="20" height="20"><rect width="20" height="20"/></svg></button>`,
      `<h1>A</h1><input type="text">`,
      `<h1>A</h1><select><option>One</option></select>`,
      `<h1>A</h1><img width="30" height="30" src="data:image/gif;base64,R0lGODlhAQABAIAAAP8AAAAAACH5BAAAAAAALAAAAAABAAEAAAICRAEAOw==">`,
      `<h1>A</h1><a href="#a"><i class="icon"></i></a>`,
      `<h1>A</h1><textarea></textarea>`,
    ]),
    { page: `<!doctype html><html><title>T</title><body><h1>No language</h1></body></html>` },
    { page: `<!doctype html><html lang="en"><body><h1>No title</h1></body></html>` },
  ],
  good: pages([
    `<h1>A</h1><button aria-label="Go"><svg width="20" height="20" aria-hidden="true"><rect width="20" height="20"/></svg></button>`,
    `<h1>A</h1><label>Name <input type="text"></label>`,
    `<h1>A</h1><label for="s">Which</label><select id="s"><option>One</option></select>`,
    `<h1>A</h1><img alt="" width="30" height="30" src="data:image/gif;base64,R0lGODlhAQABAIAAAP8AAAAAACH5BAAAAAAALAAAAAABAAEAAAICRAEAOw==">`,
    `<h1>A</h1><a href="#a">Up</a>`,
    `<h1>A</h1><input type="hidden"><input type="submit" value="Send">`,
    MOVING,
    `<h1>A</h1><div hidden><button></button></div>`,
  ]),
};

const POPUP: LabelledSet = {
  rule: "popup",
  bad: [
    ...odd(/^opens windows|new window|^downloads/),
    ...pages([
      `<h1>A</h1>${js("setTimeout(() => open('about:blank'), 300)")}`,
      `<h1>A</h1>${js("open('', 'named', 'width=200,height=200')")}`,
      `<form target="_blank" action="other.html" id="f"></form><h1>A</h1>${js("setTimeout(() => f.submit(), 300)")}`,
      `<a id="a" download="save.txt" href="data:text/plain,x">Save</a>${js("setTimeout(() => a.click(), 500)")}`,
      `<a id="a" target="else" href="other.html">Out</a>${js("setTimeout(() => a.click(), 500)")}`,
    ]),
  ],
  good: pages([
    `<h1>A</h1><a href="https://elsewhere.example/" target="_blank">Not clicked</a>`,
    `<dialog open><p>Of its own document</p></dialog>`,
    `<h1 popover id="p">Of its own document</h1><p>A</p>${js("p.showPopover()")}`,
    `<h1>A</h1><a download="x" href="data:,x">Not clicked</a>`,
    `<h1>A</h1>${js("const open = 1")}`,
    MOVING,
    `<iframe title="f" name="f" srcdoc="<p>x</p>"></iframe><h1>A</h1>`,
    `<form onsubmit="return false"><button>Go</button></form>`,
  ]),
};

const DIALOG: LabelledSet = {
  rule: "dialog",
  bad: pages([
    `<h1>A</h1>${js("alert('Welcome')")}`,
    `<h1>A</h1>${js("setTimeout(() => confirm('Sure?'), 500)")}`,
    `<h1>A</h1>${js("setTimeout(() => prompt('Name?'), 500)")}`,
    `<h1>A</h1>${js("onload = () => alert(1)")}`,
    `<h1>A</h1>${js("for (let i = 0; i < 5; i++) alert(i)")}`,
    `<h1>A</h1>${js("requestAnimationFrame(() => alert('first frame'))")}`,
    `<iframe title="f" srcdoc="<script>alert('inner')</script>"></iframe><h1>A</h1>`,
    `<h1>A</h1>${js("onerror = (message) => alert(message); null.x")}`,
  ]),
  good: pages([
    `<dialog id="d"><p>Of its own</p></dialog><h1>A</h1>${js("d.showModal()")}`,
    `<h1>A</h1>${js("console.log('alert(1)')")}`,
    `<h1>A</h1><button onclick="alert(1)">Not pressed</button>`,
    `<h1>A</h1>${js("onbeforeunload = () => 'stay'")}`,
    `<div role="alertdialog"><p>Drawn by the page</p></div>`,
    MOVING,
    `<h1>A</h1>${js("const alert = () => 1; alert()")}`,
    `<h1>A</h1>${js("globalThis.confirm = () => true; confirm('x')")}`,
  ]),
};

const NAVIGATED: LabelledSet = {
  rule: "navigated",
  bad: odd(/^goes to|^reloads|^is led away|^sends a form|^holds on/),
  good: [
    ...odd(/^writes its document|^submits a form|^changes its address|^closes its window|^tries to lead/),
    ...pages([`<h1>A</h1>${js("location.hash = 'a'")}`, `<h1>A</h1>${js("try { history.pushState({}, '', '#b'); } catch {}")}`, MOVING]),
  ],
};

const HUNG: LabelledSet = { rule: "hung", bad: odd(/^loops|^queues micro|^backtracks|without end$/).filter(({ page }) => !/console\.log\(|throw new|fetch\(|location\.hash|createElement/.test(page)).slice(0, 9), good: [...pages([MOVING]), ...odd(/^works in a worker|^draws late|^starts many|^throws without|^evaluates|^is tall|^plays/)] };
const CRASHED: LabelledSet = {
  rule: "crashed",
  bad: [
    ...odd(/^fills|^doubles|^draws on ever/),
    ...pages([
      `<h1>A</h1>${js("const all = []; setInterval(() => { for (let i = 0; i < 4e5; i++) all.push({ i, text: 'boat ' + i }); }, 30)")}`,
      `<h1>A</h1>${js("const all = []; setInterval(() => { const m = new WebAssembly.Memory({ initial: 3000 }); new Uint8Array(m.buffer).fill(1); all.push(m); }, 50)")}`,
      `<h1>A</h1>${js("const all = new Map(); setInterval(() => { for (let i = 0; i < 2e5; i++) all.set(all.size, [i]); }, 30)")}`,
      `<h1>A</h1>${js("const all = []; setInterval(() => { const b = new ArrayBuffer(1.5e8); new Uint8Array(b).fill(1); all.push(b); }, 60)")}`,
    ]),
  ],
  good: [
    ...odd(/^has a document of a hundred|^draws by WebGL|^asks the network|^talks/),
    ...pages([
      MOVING,
      `<h1>A</h1>${js("const all = new Uint8Array(1e8).fill(1)")}`,
      `<h1>A</h1>${js("let all = []; setInterval(() => { all = Array.from({ length: 1e5 }, (_, i) => ({ i })); }, 50)")}`,
      `<canvas width="3000" height="3000"></canvas><h1>A</h1>`,
    ]),
  ],
};

const REAL = { realTime: true, motionExpected: true } as const;
const busy = (ms: number) => canvas(`const end = performance.now() + ${ms}; while (performance.now() < end); g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);`);
const SLOW: LabelledSet = {
  rule: "slow_frames",
  bad: pages([busy(60), busy(80), busy(100), busy(120), busy(150), busy(200), `<h1>Throttled</h1>${canvas('for (let i = 0; i < 2e6; i++) n += Math.sin(i) > 2 ? 1 : 0; g.fillStyle = n % 2 ? "#136" : "#fc3"; g.fillRect(0, 0, 600, 300);')}`, busy(90)], REAL),
  good: pages([MOVING, busy(1), busy(3), busy(5), `<h1>Still</h1>`, STILL.good[1]!.page, STILL.good[2]!.page, STILL.good[6]!.page], REAL),
};

const UNSTABLE: LabelledSet = {
  rule: "unstable",
  bad: pages(
    Array.from(
      { length: 8 },
      (_, i) =>
        `<h1 id="h">0</h1><p id="p"></p>${js(`const w = new Worker(URL.createObjectURL(new Blob(["let n = 0; const go = () => { const end = performance.now() + ${3 + i}; while (performance.now() < end) n++; postMessage(n); setTimeout(go, ${5 + i}); }; go();"]))); let k = 0; w.onmessage = ({ data }) => { h.textContent = data; p.style.marginLeft = (data % 300) + "px"; p.textContent = k++; };`)}`,
    ),
    { repeats: 2 },
  ),
  good: [
    ...pages([MOVING, canvas('g.fillStyle = `hsl(${Math.random() * 360} 60% 50%)`; g.fillRect(Math.random() * 500, Math.random() * 200, 90, 90);')], { repeats: 2 }),
    ...STILL.good.slice(1, 7).map(({ page }) => ({ page, plan: { repeats: 2 } })),
  ],
};

export const LABELLED: readonly LabelledSet[] = [
  BLANK,
  STILL,
  EXCEPTION,
  CRASHED,
  HUNG,
  NAVIGATED,
  DEAD,
  WRONG,
  MISSING,
  LIBRARY,
  BLOCKED,
  POPUP,
  DIALOG,
  UNREADABLE,
  OVERFLOW,
  TALL,
  ACCESSIBILITY,
  SLOW,
  UNSTABLE,
];
