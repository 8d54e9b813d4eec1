import { canvas, js, type LabelledSet, MOVES, MOVING, pages } from "./build.js";

export const BLANK: LabelledSet = {
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

export const STILL: LabelledSet = {
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
      canvas("g.clearRect(0, 0, 600, 300); g.fillRect(40 + 0 * t, 40, 100, 100);"),
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

const text = (style: string) => `<h1>Title</h1><p style="${style}">Some text that is to be read by people</p>`;
export const UNREADABLE: LabelledSet = {
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

export const OVERFLOW: LabelledSet = {
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

export const TALL: LabelledSet = {
  rule: "tall_page",
  bad: pages([
    `<div style="height: 3000px; background: linear-gradient(#fff, #136)">Tall</div>`,
    `<p>${"A long text. ".repeat(1500)}</p>`,
    `<canvas width="400" height="1200"></canvas><p>Below</p>`,
    `<svg width="400" height="2000"><rect width="400" height="2000" fill="#c33"/></svg>`,
    "<h2>Section</h2><p>Text</p>".repeat(20),
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

export const WRONG: LabelledSet = {
  rule: "goes_wrong",
  bad: pages(
    [
      canvas('g.clearRect(0, 0, 600, 300); g.fillStyle = "#c33"; g.fillRect(50 + t * t / 3000, 50, 200, 200);'),
      canvas(
        'if (n > 90) null.x; g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);',
      ),
      `<h1>Score: <span id="s">0</span></h1>${MOVING}${js("let points; setTimeout(() => { s.textContent = points + 1; }, 700)")}`,
      `<h1>Hello <span id="s"></span></h1>${MOVING}${js("s.append(({}).name)")}`,
      `<h1>Total: <span id="s"></span></h1>${MOVING}${js("s.textContent = 1 / 0")}`,
      `<p id="s"></p>${MOVING}${js("s.textContent = 'Boat ' + {}")}`,
      `<div id="d"><h1>Here at first</h1>${"<p>With a good deal of text.</p>".repeat(8)}</div>${js("setInterval(() => { d.style.marginTop = (performance.now() / 3) + 'px'; }, 30); document.body.style.overflow = 'hidden'")}`,
      canvas(
        'g.fillStyle = "#fff"; g.fillRect(0, 0, 600, 300); x += v; v *= 1.05; g.fillStyle = "#136"; g.fillRect(x, 40, 220, 220);',
        "let x = 40, v = 1;",
      ),
    ],
    MOVES,
  ),
  good: pages(
    [
      MOVING,
      canvas('g.clearRect(0, 0, 600, 300); g.fillStyle = "#c33"; g.fillRect(50 + (t / 6) % 400, 50, 200, 200);'),
      `<h1>Infinity pool</h1><p>A NaN-free undefined_behaviour</p>${MOVING}`,
      `<h1>Blinks</h1>${canvas("g.clearRect(0, 0, 600, 300); if (Math.floor(t / 700) % 2) g.fillRect(50, 50, 200, 200);")}`,
      `<h1>Ends by itself</h1><style>h1 { animation: go 1.5s both } @keyframes go { to { transform: translateX(200px) } }</style>`,
      `<h1>Throws early and goes on</h1>${js("setTimeout(() => null.x, 100)")}${MOVING}`,
      `<h1>Empties half way</h1><style>h1 { animation: go 3s infinite } @keyframes go { 40%, 60% { opacity: 0 } }</style>`,
      `<p id="p">Waiting</p>${js("setInterval(() => { p.textContent = Math.round(performance.now()); }, 300)")}`,
    ],
    MOVES,
  ),
};

export const ACCESSIBILITY: LabelledSet = {
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

const REAL = { realTime: true, motionExpected: true } as const;
const busy = (ms: number) =>
  canvas(
    `const end = performance.now() + ${ms}; while (performance.now() < end); g.fillStyle = "#136"; g.fillRect(0, 0, 600, 300); g.fillStyle = "#fc3"; g.fillRect((t / 8) % 500, 80, 90, 90);`,
  );
export const SLOW: LabelledSet = {
  rule: "slow_frames",
  bad: pages(
    [
      busy(60),
      busy(80),
      busy(100),
      busy(120),
      busy(150),
      busy(200),
      `<h1>Throttled</h1>${canvas('for (let i = 0; i < 8e6; i++) n += Math.sin(i) > 2 ? 1 : 0; g.fillStyle = n % 2 ? "#136" : "#fc3"; g.fillRect(0, 0, 600, 300);')}`,
      busy(90),
    ],
    REAL,
  ),
  good: pages(
    [
      MOVING,
      busy(1),
      busy(3),
      busy(5),
      `<h1>Still</h1>`,
      STILL.good[1]!.page,
      STILL.good[2]!.page,
      STILL.good[6]!.page,
    ],
    REAL,
  ),
};
