import { describe, expect, it } from "vitest";
import { recordForTest } from "../../test-support/record-for-test.js";

const DRAWN_ALL = { pacing: { stride: 1, drawsAll: true } };
const hashes = ({ frames }: { frames: readonly { sha256: string }[] }) => frames.map(({ sha256 }) => sha256);

/** A page with a canvas drawn on by WebGL: `clear(r)` fills it with a red of that strength. */
const webgl = (
  script: string,
) => `<!doctype html><title>Drawn</title><canvas id=c width=200 height=100></canvas><script>
  const c = document.getElementById("c"), gl = c.getContext("webgl");
  const clear = (r) => { gl.clearColor(r, 0.2, 0.4, 1); gl.clear(gl.COLOR_BUFFER_BIT); };
  ${script}
</script>`;

describe("frames that are not drawn", () => {
  it("come to the page all the same, sixty a second and in whole milliseconds", async () => {
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
});
