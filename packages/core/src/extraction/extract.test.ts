import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { extractArtifact, LIMITS } from "./extract.js";

const PAGE = "<!doctype html>\n<html><body><p>one</p></body></html>";
const page = (body: string) => `<!doctype html>\n<html><head><title>t</title></head><body>${body}</body></html>`;
const fence = (language: string, text: string, mark = "```") => `${mark}${language}\n${text}\n${mark}`;
const extract = (answer: string, stopReason: string | null = "stop") => extractArtifact(answer, { stopReason });

describe("extractArtifact", () => {
  it("takes the only fence, byte for byte, and says where it stood", () => {
    const answer = `Here it is.\n\n${fence("html", PAGE)}\n\nEnjoy.`;
    const { verdict, kind, entry, files } = extract(answer);
    expect({ verdict, kind, entry }).toEqual({ verdict: "ok", kind: "html", entry: "index.html" });
    expect(files[0]!.text).toBe(`${PAGE}\n`);
    expect(answer.slice(files[0]!.from.start, files[0]!.from.end)).toBe(`${PAGE}\n`);
  });

  it.each([
    ["an answer that is the page itself", PAGE],
    ["prose around a page without a fence", `Sure.\n\n${PAGE}\n\nThat is all.`],
    ["a fence without a label", fence("", PAGE)],
    ["a fence labelled wrongly", fence("javascript", PAGE)],
    ["a tilde fence", fence("html", PAGE, "~~~~")],
    ["a fence that never closes round a whole page", `\`\`\`html\n${PAGE}`],
    ["CRLF line ends", fence("html", PAGE).replaceAll("\n", "\r\n")],
    ["a byte-order mark", `\ufeff${fence("html", PAGE)}`],
    ["reasoning before it", `<think>Maybe ${fence("html", page("draft"))}?</think>\n${fence("html", PAGE)}`],
  ])("takes the page from %s", (_what, answer) => {
    const { verdict, files } = extract(answer);
    expect(verdict).toBe("ok");
    expect(files).toHaveLength(1);
    expect(files[0]!.text).toContain("<p>one</p>");
    expect(files[0]!.text).not.toContain("draft");
  });

  it("takes an indented fence without its indent", () => {
    const answer = `1. The page:\n\n   ${fence("html", PAGE).replaceAll("\n", "\n   ")}`;
    expect(extract(answer).files[0]!.text).toBe(`${PAGE}\n`);
  });

  it("takes the last complete version when the answer corrects itself", () => {
    const answer = `${fence("html", page("first"))}\n\nOops, a bug. Corrected:\n\n${fence("html", page("second"))}`;
    const { files, trace } = extract(answer);
    expect(files[0]!.text).toContain("second");
    expect(trace.find(({ action }) => action === "taken")?.why).toBe("it is the last complete version");
  });

  it("takes the first when the answer offers alternatives", () => {
    const answer = `## Option 1\n\n${fence("html", page("first"))}\n\n## Option 2\n\n${fence("html", page("second"))}`;
    expect(extract(answer).files[0]!.text).toContain("first");
  });

  it("takes the earlier complete one when the later only elides it", () => {
    const answer = `${fence("html", page("whole"))}\n\nTo change the title:\n\n${fence("html", page("<!-- the rest of the code is unchanged -->"))}`;
    expect(extract(answer).files[0]!.text).toContain("whole");
  });

  it("takes the earlier complete one when the later is cut off", () => {
    const answer = `${fence("html", page("whole"))}\n\nWith sound:\n\n\`\`\`html\n<!doctype html><html><body><script>play(`;
    expect(extract(answer, "length")).toMatchObject({ verdict: "ok" });
  });

  it("joins a style sheet and a script that the page links", () => {
    const html = page('<link rel="stylesheet" href="style.css"><script src="script.js"></script>');
    const { kind, files } = extract(
      `**index.html**\n\n${fence("html", html)}\n\n**style.css**\n${fence("css", "p { color: red }")}\n\n**script.js**\n${fence("js", "go()")}`,
    );
    expect(kind).toBe("files");
    expect(files.map(({ path }) => path)).toEqual(["index.html", "style.css", "script.js"]);
  });

  it("puts style and script that nothing links into the page", () => {
    const { kind, files } = extract(
      `${fence("html", page("<p>x</p>"))}\n${fence("css", "p { color: red }")}\n${fence("js", "go()")}`,
    );
    expect(kind).toBe("html");
    expect(files[0]!.text).toMatch(/<style>\np \{ color: red \}\n<\/style>\n<\/head>/);
    expect(files[0]!.text).toMatch(/<script>\ngo\(\)\n<\/script>\n<\/body>/);
  });

  it("leaves out a snippet that explains a page which brings its own script", () => {
    const { files } = extract(
      `${fence("html", page("<script>let speed = 1</script>"))}\n\nFaster:\n\n${fence("js", "speed = 2")}`,
    );
    expect(files).toHaveLength(1);
    expect(files[0]!.text).not.toContain("speed = 2");
  });

  it("takes a drawing", () => {
    const svg = '<svg xmlns="http://www.w3.org/2000/svg"><circle r="3"/></svg>';
    expect(extract(fence("xml", svg))).toMatchObject({ verdict: "ok", kind: "svg", entry: "drawing.svg" });
    expect(extract(fence("svg", svg.slice(0, -6)))).toMatchObject({ verdict: "truncated" });
  });

  it("judges completeness by the document, not by the stop reason", () => {
    expect(extract(fence("html", PAGE), "length").verdict).toBe("ok");
    expect(extract("```html\n<!doctype html><html><body><script>const a = [1,", "stop").verdict).toBe("truncated");
  });

  it("reads no more than 400 parts, and says so", () => {
    const page = "<!doctype html><html><body><p>A tide table</p></body></html>";
    const write = (file: string, text: string) => `cat > ${file} <<EOF\n${text}\nEOF\n`;
    const sheets = (count: number) => Array.from({ length: count }, (_, i) => write(`a${i}.css`, "p { margin: 0 }"));
    const read = (count: number) =>
      extractArtifact([...sheets(count), write("index.html", page)].join(""), { stopReason: "stop" });
    const why = "it has more than 400 parts; only the first 400 are read";
    const part = "the answer, here-document index.html";
    expect(read(399).trace).toContainEqual(expect.objectContaining({ part, action: "taken" }));
    expect(read(399).trace.map((step) => step.why)).not.toContain(why);
    expect(read(400).trace.map((step) => step.part)).not.toContain(part);
    expect(read(400).trace).toContainEqual({ part: "the whole answer", action: "noted", why });
  });

  it("tells an empty answer, a refusal, and an answer without a page apart", () => {
    expect(extract(" \n ").verdict).toBe("empty");
    expect(extract("I'm sorry, but I can't help with building that.").verdict).toBe("refusal");
    expect(extract("First think about the lock, then about the boats.").verdict).toBe("no_artifact");
    expect(extract(fence("python", "print('a lock')")).verdict).toBe("no_artifact");
    expect(extract(fence("html", page("The guard says: I can't let you in."))).verdict).toBe("ok");
  });

  it.each(["../../etc/cron.html", "/etc/passwd.html", "C:\\windows\\a.html", "__proto__/a.html", "con.html"])(
    "neutralises the file name %s",
    (name) => {
      const { files, entry } = extract(`\`\`\`html title="${name}"\n${PAGE}\n\`\`\``);
      expect(entry).toBe("index.html");
      expect(files.map(({ path }) => path)).toEqual(["index.html"]);
    },
  );

  it("never throws, and gives only files within the limits and a trace, on any text", () => {
    const part = fc.oneof(
      fc.string(),
      fc.constantFrom(
        "```",
        "~~~",
        "```html\n",
        "<svg>",
        "<!doctype html>",
        "</html>",
        "<think>",
        "\n",
        "**a.css**",
        "<script>",
        "\ud800",
      ),
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 40 }), (parts) => {
        const { files, entry, verdict } = extract(parts.join(""), "length");
        expect(files.length).toBeLessThanOrEqual(LIMITS.files);
        expect(entry === null).toBe(files.length === 0);
        if (files.length > 0) expect(["ok", "truncated"]).toContain(verdict);
      }),
      { numRuns: 500 },
    );
  });
});
