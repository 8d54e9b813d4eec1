import { APP, canvas, doc, GAME, js, type LabelledSet, MOVING, odd, pages } from "./build.js";
import { STILL } from "./shown.js";

export const EXCEPTION: LabelledSet = {
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

export const DEAD: LabelledSet = {
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

const GO = { walkthrough: [{ atMs: 900, click: { role: "button", name: "Go" } }] };
export const MISSING_CONTROL: LabelledSet = {
  rule: "missing_control",
  bad: pages(
    [
      "<h1>Page</h1>",
      "<button>Start</button>",
      `<a href="#">Go</a>`,
      `<div onclick="1">Go</div>`,
      `<button aria-label="Begin">Go</button>`,
      `<button hidden>Go</button>`,
      `<button style="display: none">Go</button>`,
      `<canvas id="c"></canvas>`,
    ],
    GO,
  ),
  good: pages(
    [
      "<button>Go</button>",
      `<div role="button" tabindex="0">Go</div>`,
      `<input type="submit" value="Go">`,
      `<button aria-label="Go"></button>`,
      `<button>GO!</button>`,
      `<div style="height: 2000px"></div><button>Go</button>`,
      `<button><img alt="Go" src="data:,"></button>`,
      js("setTimeout(() => { document.body.innerHTML = '<button>Go</button>'; }, 300)"),
    ],
    GO,
  ),
};
export const NEEDS: LabelledSet = {
  rule: "needs_device",
  bad: pages([
    `<h1>A</h1>${js("navigator.mediaDevices?.getUserMedia({ video: true }).catch(() => {})")}`,
    `<h1>A</h1>${js("navigator.mediaDevices?.getUserMedia({ audio: true }).catch(() => {})")}`,
    `<h1>A</h1>${js("setInterval(() => navigator.getGamepads(), 100)")}`,
    `<h1>A</h1>${js("addEventListener('deviceorientation', () => {})")}`,
    `<h1>A</h1>${js("navigator.requestMIDIAccess?.().catch(() => {})")}`,
    `<h1>A</h1>${js("navigator.geolocation.getCurrentPosition(() => {})")}`,
    `<h1>A</h1>${js("addEventListener('touchstart', () => {})")}`,
    `<h1>A</h1>${js("navigator.bluetooth?.requestDevice({ acceptAllDevices: true }).catch(() => {})")}`,
  ]),
  good: pages([
    "<h1>A camera and a gamepad</h1>",
    `<h1>A</h1>${js("addEventListener('touchstart', () => {}); addEventListener('mousedown', () => {})")}`,
    `<h1>A</h1>${js("addEventListener('pointerdown', () => {})")}`,
    `<h1>A</h1>${js("const camera = { x: 0, y: 0 }; console.log(camera)")}`,
    `<h1>A</h1>${js("new AudioContext()")}`,
    `<h1>A</h1><video controls></video>`,
    `<h1>A</h1>${js("console.log(navigator.maxTouchPoints, screen.orientation?.type)")}`,
    MOVING,
  ]),
};
export const MISSING: LabelledSet = {
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
export const LIBRARY: LabelledSet = {
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

export const BLOCKED: LabelledSet = {
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
  good: LIBRARY.bad
    .slice(0, 4)
    .concat(
      pages([
        "<h1>A</h1>",
        MOVING,
        `<h1>A</h1><a href="https://elsewhere.example/">Out</a>`,
        `<h1>A</h1>${js("fetch('data:text/plain,x')")}`,
      ]),
    ),
};

export const POPUP: LabelledSet = {
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

export const DIALOG: LabelledSet = {
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

export const NAVIGATED: LabelledSet = {
  rule: "navigated",
  bad: odd(/^goes to|^reloads|^is led away|^sends a form|^holds on/),
  good: [
    ...odd(/^writes its document|^submits a form|^changes its address|^closes its window|^tries to lead/),
    ...pages([
      `<h1>A</h1>${js("location.hash = 'a'")}`,
      `<h1>A</h1>${js("try { history.pushState({}, '', '#b'); } catch {}")}`,
      MOVING,
    ]),
  ],
};

export const HUNG: LabelledSet = {
  rule: "hung",
  bad: odd(/^loops|^queues micro|^backtracks|without end$/)
    .filter(({ page }) => !/console\.log\(|throw new|fetch\(|location\.hash|createElement/.test(page))
    .slice(0, 9),
  good: [
    ...pages([MOVING]),
    ...odd(/^works in a worker|^draws late|^starts many|^throws without|^evaluates|^is tall|^plays/),
  ],
};
export const CRASHED: LabelledSet = {
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

export const UNSTABLE: LabelledSet = {
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
    ...pages(
      [
        MOVING,
        canvas(
          "g.fillStyle = `hsl(${Math.random() * 360} 60% 50%)`; g.fillRect(Math.random() * 500, Math.random() * 200, 90, 90);",
        ),
      ],
      { repeats: 2 },
    ),
    ...STILL.good.slice(1, 7).map(({ page }) => ({ page, plan: { repeats: 2 } })),
  ],
};
