import { describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";

const DRAWN_ALL = { pacing: { stride: 1, draws: "all" } } as const;
const hashes = ({ frames }: { frames: readonly { sha256: string }[] }) => frames.map(({ sha256 }) => sha256);

/** A page with a canvas drawn on by WebGL: `clear(r)` fills it with a red of that strength. */
const webgl = (
  script: string,
) => `<!doctype html><title>Drawn</title><canvas id=c width=200 height=100></canvas><script>
  const c = document.getElementById("c"), gl = c.getContext("webgl");
  const clear = (r) => { gl.clearColor(r, 0.2, 0.4, 1); gl.clear(gl.COLOR_BUFFER_BIT); };
  ${script}
</script>`;

describe("the document at the end", () => {
  it("is as deep as its deepest element", async () => {
    const { metrics } = await recordForTest(
      "<!doctype html><title>Deep</title><body><ul><li>a<li><p><b><i>b</i></b></p></ul><p>c</p></body>",
    );
    // html, body, ul, li, p, b, i
    expect(metrics.domDepth).toBe(7);
  });
});

describe("frames that are not drawn", () => {
  it("still call the page back sixty times a second, at whole milliseconds", async () => {
    const { shownText, metrics } = await recordForTest(
      `<!doctype html><title>Counts</title><p id=p></p><script>
        const times = [];
        const step = (at) => { times.push(at); p.textContent = times.length + " " + times.every(Number.isInteger) + " " + times.slice(1).map((t, i) => t - times[i]).every((d) => d === 16 || d === 17); requestAnimationFrame(step); };
        requestAnimationFrame(step);
      </script>`,
    );
    expect(shownText).toMatch(/^1(19|20) true true$/);
    expect(metrics.framesDrawn).toBeLessThan(60);
  });
  it("report what is thrown in them, and go on with who else waits", async () => {
    const { shownText, console } = await recordForTest(
      `<!doctype html><title>Throws</title><p id=p></p><script>
        let n = 0;
        const wrong = () => { n++; requestAnimationFrame(wrong); if (n === 40) throw new Error("forty"); };
        const right = () => { p.textContent = String(n > 100); requestAnimationFrame(right); };
        requestAnimationFrame(wrong); requestAnimationFrame(right);
        const never = requestAnimationFrame(() => { document.title = "wrong"; }); cancelAnimationFrame(never);
      </script>`,
    );
    expect(shownText).toBe("true");
    expect(console.map(({ text }) => text).join()).toContain("forty");
  });
  it("are drawn where an animation ends, so that what follows from it comes in time", async () => {
    const { shownText } = await recordForTest(
      `<!doctype html><title>Ends</title><style>@keyframes a { to { opacity: 0.5 } } p { animation: a 0.7s }</style><p id=p></p><script>
        p.addEventListener("animationend", () => { p.textContent = String(Math.round(performance.now())); });
      </script>`,
    );
    expect(Number(shownText)).toBeGreaterThanOrEqual(700);
    expect(Number(shownText)).toBeLessThan(750);
  });
});

/** A page that draws pictures for itself: `fill(target, r)` fills one with a red, `show(target, texture, r)` draws another on it, a little brighter. */
const targets = (script: string) =>
  webgl(`
  const shader = (type, text) => { const s = gl.createShader(type); gl.shaderSource(s, text); gl.compileShader(s); return s; };
  const program = gl.createProgram();
  gl.attachShader(program, shader(gl.VERTEX_SHADER, "attribute vec2 a; void main() { gl_Position = vec4(a, 0, 1); }"));
  gl.attachShader(program, shader(gl.FRAGMENT_SHADER, "precision mediump float; uniform sampler2D t; uniform float r; void main() { gl_FragColor = vec4(texture2D(t, vec2(0.5)).r + r, 0.3, 0.3, 1); }"));
  gl.linkProgram(program); gl.useProgram(program);
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer()); gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW);
  gl.enableVertexAttribArray(0); gl.vertexAttribPointer(0, 2, gl.FLOAT, false, 0, 0);
  const make = () => { const texture = gl.createTexture(), target = gl.createFramebuffer(); gl.bindTexture(gl.TEXTURE_2D, texture); gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, 200, 100, 0, gl.RGBA, gl.UNSIGNED_BYTE, null); gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST); gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE); gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE); gl.bindFramebuffer(gl.FRAMEBUFFER, target); gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0); return { texture, target }; };
  const empty = make(), one = make(), two = make();
  const show = (to, from, r, clears = true) => { gl.bindFramebuffer(gl.FRAMEBUFFER, to ? to.target : null); gl.bindTexture(gl.TEXTURE_2D, from.texture); if (clears) clear(0); gl.uniform1f(gl.getUniformLocation(program, "r"), r); gl.drawArrays(gl.TRIANGLES, 0, 3); };
  let n = 0; const frame = (draw) => { const step = () => { draw(n++); requestAnimationFrame(step); }; requestAnimationFrame(step); };
  ${script}`);

describe("drawing by WebGL in frames that nobody sees", () => {
  it("is left out without a trace in the pictures", async () => {
    const page = webgl(
      `const draw = (at) => { clear((at % 1000) / 1000); requestAnimationFrame(draw); }; requestAnimationFrame(draw);`,
    );
    const [less, all] = [await recordForTest(page), await recordForTest(page, {}, DRAWN_ALL)];
    expect(hashes(less)).toEqual(hashes(all));
    expect(new Set(hashes(less)).size).toBe(less.frames.length);
  });
  it.each([
    [
      "draws once in a while",
      `let n = 0; const draw = () => { if (n++ % 45 === 0) clear(n / 120); requestAnimationFrame(draw); }; requestAnimationFrame(draw);`,
    ],
    [
      "draws when it has a reason to",
      `setInterval(() => requestAnimationFrame(() => clear((performance.now() % 1000) / 1000)), 400);`,
    ],
    [
      "reads what it has drawn",
      `let n = 0; const small = document.body.appendChild(document.createElement("canvas")).getContext("2d");
       const draw = () => { clear(n++ / 120); if (n % 7 === 0) small.drawImage(c, 0, 0); requestAnimationFrame(draw); }; requestAnimationFrame(draw);`,
    ],
  ])("is not left out of a page that %s", async (_name, script) => {
    const [less, all] = [await recordForTest(webgl(script)), await recordForTest(webgl(script), {}, DRAWN_ALL)];
    expect(hashes(less)).toEqual(hashes(all));
    expect(new Set(hashes(less)).size).toBeGreaterThan(1);
  });
  it.each([
    ["that every frame clears and redraws", "frame((n) => { show(one, empty, n / 300); show(null, one, 0.1); });"],
    ["that was drawn once before", "show(one, empty, 0.4); frame((n) => show(null, one, n / 300));"],
    [
      "that is drawn in the first frame only",
      "frame((n) => { if (n === 0) show(one, empty, 0.4); show(null, one, n / 300); });",
    ],
    [
      "that is drawn in some frames only",
      "frame((n) => { if (n % 25 === 7) show(one, empty, n / 300); show(null, one, 0.1); });",
    ],
    [
      "that grows by itself",
      "frame((n) => { const [from, to] = n % 2 ? [one, two] : [two, one]; show(to, from, 1 / 250); show(null, to, 0.1); });",
    ],
    [
      "that is never cleared",
      "gl.enable(gl.BLEND); gl.blendFunc(gl.ONE, gl.ONE); frame((n) => { show(one, empty, 1 / 250, false); show(null, one, 0); });",
    ],
    [
      "that begins to matter late",
      "frame((n) => { show(one, n > 70 ? two : empty, n / 300); if (n > 70) show(two, one, 0.002); show(null, one, 0.1); });",
    ],
  ])("is right with a picture of its own %s", async (_name, script) => {
    const [less, all] = [await recordForTest(targets(script)), await recordForTest(targets(script), {}, DRAWN_ALL)];
    expect(hashes(less)).toEqual(hashes(all));
    expect(new Set(hashes(less)).size).toBeGreaterThan(1);
  });
});
