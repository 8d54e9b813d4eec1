import { describe, expect, it } from "vitest";
import { COMPONENT, CSS, fence, JS, LINKED, longPage, type MessyCase, page, SVG } from "../../test-support/answers.js";
import { ODD_CASES } from "../../test-support/odd-answers.js";
import { extractArtifact } from "./index.js";

const CASES: Record<string, MessyCase> = {
  // Which version is meant
  "a draft, then the final version": {
    answer: `A first sketch:\n\n${fence("html", longPage("draft"))}\n\nThe boat sinks. Final version:\n\n${fence("html", longPage("final"))}`,
    holds: "final1",
    lacks: "draft1",
  },
  "three rounds of correction": {
    answer: [1, 2, 3].map((n) => `Version ${n}, corrected:\n${fence("html", longPage(`round${n}x`))}`).join("\n\n"),
    holds: "round3x1",
  },
  "an apology and a rewrite without another word": {
    answer: `${fence("html", longPage("old"))}\n\nWait, the gate opens the wrong way.\n\n${fence("html", longPage("fresh"))}`,
    holds: "fresh1",
  },
  "two options under headings": {
    answer: `## Option A: canvas\n${fence("html", longPage("canvas"))}\n\n## Option B: SVG\n${fence("html", longPage("vector"))}`,
    holds: "canvas1",
  },
  "alternatively, a simpler version": {
    answer: `${fence("html", longPage("rich"))}\n\nAlternatively, if you prefer something plainer:\n\n${fence("html", longPage("plain"))}`,
    holds: "rich1",
  },
  "two versions announced at the start": {
    answer: `I made two versions for you.\n\n**Night**\n${fence("html", longPage("night"))}\n\n**Day**\n${fence("html", longPage("day"))}`,
    holds: "night1",
  },
  "a choice left to the reader at the end": {
    answer: `${fence("html", longPage("first"))}\n\nThe same with a storm:\n\n${fence("html", longPage("second"))}\n\nPick whichever you like.`,
    holds: "first1",
  },
  "options, then a final one that joins them": {
    answer: `Option A:\n${fence("html", longPage("aaa"))}\nOption B:\n${fence("html", longPage("bbb"))}\nFinal version, combining both:\n${fence("html", longPage("both"))}`,
    holds: "both1",
  },
  "a later version that leaves the rest out": {
    answer: `${fence("html", longPage("whole"))}\n\nImproved gate:\n\n${fence("html", page("<script>\n// ... existing code ...\nopenGate();\n</script>"))}`,
    holds: "whole1",
  },
  "a later version with the rest unchanged": {
    answer: `${fence("html", longPage("whole"))}\n\nUpdated:\n\n${fence("html", page("<!-- rest of the body unchanged -->"))}`,
    holds: "whole1",
  },
  "a diff after the page": {
    answer: `${fence("html", longPage("whole"))}\n\nTo fix the gate:\n\n${fence("diff", "-<canvas>\n+<canvas hidden>")}`,
    holds: "whole1",
    lacks: "hidden",
  },
  "a page that tests it in a frame": {
    answer: `${fence("html", longPage("whole"))}\n\nTo embed it:\n\n${fence("html", page('<iframe src="index.html"></iframe>'))}`,
    holds: "whole1",
  },
  "a snippet of the page quoted afterwards": {
    answer: `${fence("html", longPage("whole"))}\n\nThe important line is this:\n\n${fence("html", '<canvas id="whole"></canvas>')}`,
    holds: "whole1",
  },
  "an outline first": {
    answer: `The structure is:\n\n${fence("html", page("<!-- the rest of the code goes here -->"))}\n\nAnd now all of it:\n\n${fence("html", longPage("all"))}`,
    holds: "all1",
  },
  "a correction that was cut off": {
    answer: `${fence("html", longPage("whole"))}\n\nFixed:\n\n\`\`\`html\n<!DOCTYPE html>\n<html><body><script>\nfunction broken() {`,
    stopReason: "length",
    verdict: "ok",
    holds: "whole1",
  },
  "only the style sheet is corrected": {
    answer: `**index.html**\n${fence("html", LINKED)}\n**style.css**\n${fence("css", CSS)}\n**script.js**\n${fence("js", JS)}\n\nThe colour was wrong. Corrected **style.css**:\n${fence("css", "body { background: #456; }")}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "small snippets that explain": {
    answer: `${fence("html", page("<p>lock</p>"))}\n\nTo change the speed, try:\n\n${fence("js", "speed = 2;")}`,
    kind: "html",
    lacks: "speed",
  },

  // Several files and their names
  "names in headings": {
    answer: `### index.html\n${fence("html", LINKED)}\n### style.css\n${fence("css", CSS)}\n### script.js\n${fence("js", JS)}`,
    kind: "files",
    paths: ["index.html", "style.css", "script.js"],
  },
  "names in bold with a colon": {
    answer: `**File: index.html**\n\n${fence("html", LINKED)}\n\n**File: style.css**\n\n${fence("css", CSS)}\n\n**File: script.js**\n\n${fence("js", JS)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "names in code spans within a sentence": {
    answer: `Save this as \`index.html\`:\n${fence("html", LINKED)}\nand put this into \`style.css\`:\n${fence("css", CSS)}\nFinally \`script.js\`:\n${fence("js", JS)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "names in info strings": {
    answer: `${fence("html index.html", LINKED)}\n${fence('css title="style.css"', CSS)}\n${fence("js:script.js", JS)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "names in first-line comments": {
    answer: `${fence("html", `<!-- index.html -->\n${LINKED}`)}\n${fence("css", `/* style.css */\n${CSS}`)}\n${fence("js", `// script.js\n${JS}`)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "names in a numbered list": {
    answer: `1. \`index.html\`\n\n   ${fence("html", LINKED).replaceAll("\n", "\n   ")}\n\n2. \`style.css\`\n\n   ${fence("css", CSS).replaceAll("\n", "\n   ")}\n\n3. \`script.js\`\n\n   ${fence("js", JS).replaceAll("\n", "\n   ")}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "files in folders": {
    answer: `**index.html**\n${fence("html", page('<script type="module" src="src/main.js"></script>'))}\n**src/main.js**\n${fence("js", 'import { gate } from "./gate.js";\ngate();')}\n**src/gate.js**\n${fence("js", "export function gate() {}")}`,
    paths: ["index.html", "src/gate.js", "src/main.js"],
  },
  "a style sheet and a script without names that the page links": {
    answer: `${fence("html", LINKED)}\n${fence("css", CSS)}\n${fence("javascript", JS)}`,
    kind: "files",
    paths: ["index.html", "script.js", "style.css"],
  },
  "a style sheet and a script that nothing links": {
    answer: `${fence("html", page('<div class="lock"></div>'))}\n${fence("css", CSS)}\n${fence("js", JS)}`,
    kind: "html",
    holds: "lock.remove()",
  },
  "page code without a document, with style and script": {
    answer: `HTML:\n${fence("html", '<div class="lock"></div>')}\nCSS:\n${fence("css", CSS)}\nJS:\n${fence("js", JS)}`,
    kind: "html",
    holds: "margin: 0",
  },
  "shell here-documents": {
    answer: fence(
      "bash",
      `mkdir lock\ncat > index.html <<'EOF'\n${LINKED}\nEOF\ncat > style.css <<'EOF'\n${CSS}\nEOF\ncat <<EOF > script.js\n${JS}\nEOF`,
    ),
    kind: "files",
    paths: ["index.html", "script.js", "style.css"],
  },
  "a JSON wrapper with a list of files": {
    answer: JSON.stringify({
      files: [
        { path: "index.html", content: LINKED },
        { path: "style.css", content: CSS },
        { path: "script.js", content: JS },
      ],
    }),
    kind: "files",
    text: LINKED,
  },
  "a JSON wrapper in a fence, names as keys": {
    answer: `Here:\n${fence("json", JSON.stringify({ "index.html": LINKED, "style.css": CSS, "script.js": JS }, null, 2))}`,
    kind: "files",
    text: LINKED,
  },
  "a JSON wrapper with one page": {
    answer: JSON.stringify({ html: longPage("json") }),
    kind: "html",
    text: longPage("json"),
  },
  "a JSON wrapper that was cut off": {
    answer: JSON.stringify({ html: longPage("json") }).slice(0, 400),
    verdict: "truncated",
  },
  "two files that differ only in case": {
    answer: `**index.html**\n${fence("html", LINKED)}\n**style.css**\n${fence("css", CSS)}\n**Style.css**\n${fence("css", "body { color: red; }")}\n**script.js**\n${fence("js", JS)}`,
    paths: ["index.html", "script.js", "style.css"],
  },
  "a way upwards in a name": {
    answer: `**index.html**\n${fence("html", page("<p>x</p>"))}\n${fence('css title="../../style.css"', CSS)}`,
    paths: ["index.html"],
  },
  "files that no browser needs": {
    answer: `**index.html**\n${fence("html", longPage("web"))}\n**package.json**\n${fence("json", '{ "name": "lock" }')}\n**server.js**\n${fence("js", "require('http')")}\n${fence("bash", "npm start")}`,
    paths: ["index.html"],
  },

  // Fences of all sorts
  "a tilde fence": { answer: fence("html", longPage("tilde"), "~~~"), text: `${longPage("tilde")}\n` },
  "a long fence that holds short ones": {
    answer: fence("html", page("<pre>\n```js\ncode\n```\n</pre>"), "`````"),
    holds: "</pre>",
  },
  "a fence line in a string of the page": {
    answer: fence("html", page("<script>\nconst help = `\n```\nkeys\n```\n`;\nstart();\n</script>")),
    holds: "start();",
  },
  "a fence that was never closed before the next": {
    answer: `\`\`\`html\n${LINKED}\n\nNow the style:\n\n\`\`\`css\n${CSS}\n\`\`\`\n\n${fence("js", JS)}`,
    paths: ["index.html", "script.js", "style.css"],
    text: `${LINKED}\n`,
  },
  "a fence that never closes": { answer: `\`\`\`html\n${longPage("open")}`, verdict: "ok", holds: "open1" },
  "an answer wrapped as markdown": {
    answer: `\`\`\`markdown\n# Lock\n\n\`\`\`html\n${longPage("inner")}\n\`\`\`\n\nEnjoy.\n\`\`\``,
    holds: "inner1",
  },
  "an answer wrapped in a longer markdown fence": {
    answer: fence("md", `# Lock\n\n${fence("html", longPage("inner"))}\n`, "````"),
    holds: "inner1",
  },
  "a stray mark before the real fence": {
    answer: `\`\`\`\nHere is your page.\n\n\`\`\`html\n${longPage("real")}\n\`\`\``,
    holds: "real1",
  },
  "a mislabelled page": { answer: fence("python", longPage("py")), holds: "py1" },
  "a quoted fence": {
    answer: `> ${fence("html", longPage("quoted")).replaceAll("\n", "\n> ")}`,
    text: `${longPage("quoted")}\n`,
  },
  "CRLF, a byte-order mark and non-breaking spaces": {
    answer: `\ufeffHere:\r\n\r\n\`\`\`\u00a0html\r\n${page("<p>a\u00a0b</p>").replaceAll("\n", "\r\n")}\r\n\`\`\`\r\n`,
    text: `${page("<p>a\u00a0b</p>").replaceAll("\n", "\r\n")}\r\n`,
  },
  "no fence at all": { answer: `Here you are.\n\n${longPage("bare")}\n\nIt runs anywhere.`, text: longPage("bare") },
  "an escaped page": {
    answer: longPage("esc").replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;"),
    text: longPage("esc"),
  },
  "a fence with the page's own entities": {
    answer: fence("html", page("<p>a &lt;b&gt; &amp;amp; c</p>")),
    holds: "a &lt;b&gt; &amp;amp; c",
  },

  // Drawings and components
  "a drawing in a fence labelled xml": {
    answer: fence("xml", `<?xml version="1.0"?>\n${SVG}`),
    kind: "svg",
    entry: "drawing.svg",
  },
  "a drawing without a fence": { answer: `A lock:\n\n${SVG}\n\nDone.`, kind: "svg", text: SVG },
  "a drawing cut off": { answer: `\`\`\`svg\n${SVG.slice(0, -8)}`, verdict: "truncated", kind: "svg" },
  "a page with a drawing in it": { answer: fence("html", page(SVG)), kind: "html" },
  "a component": { answer: fence("jsx", COMPONENT), kind: "component", entry: "App.jsx" },
  "a component with its style sheet": {
    answer: `**App.jsx**\n${fence("jsx", `import "./App.css";\n${COMPONENT}`)}\n**App.css**\n${fence("css", CSS)}`,
    kind: "component",
    paths: ["App.css", "App.jsx"],
  },
  "a component labelled as plain script": { answer: fence("javascript", COMPONENT), kind: "component" },
  "a single-file component": {
    answer: fence("vue", "<template><p>{{ n }}</p></template>\n<script setup>\nconst n = 1;\n</script>"),
    kind: "component",
    entry: "App.vue",
  },
  "a project with a page that only mounts it": {
    answer: `**index.html**\n${fence("html", page('<div id="root"></div>\n<script type="module" src="/src/main.jsx"></script>'))}\n**src/App.jsx**\n${fence("jsx", COMPONENT)}`,
    kind: "component",
    entry: "src/App.jsx",
  },

  // Reasoning
  "reasoning with a draft in it": {
    answer: `<think>\nMaybe ${fence("html", longPage("draft"))}\n</think>\n${fence("html", longPage("real"))}`,
    holds: "real1",
  },
  "reasoning whose beginning was not sent": {
    answer: `So first a draft\n${fence("html", longPage("draft"))}\nno.\n</think>\n\nHere:\n${fence("html", longPage("real"))}`,
    holds: "real1",
  },
  "reasoning that never ends": {
    answer: "<thinking>\nThe lock has two gates, and",
    stopReason: "length",
    verdict: "empty",
  },
  "a page with an element called think": {
    answer: fence("html", page("<think>What now?</think>")),
    holds: "<think>What now?</think>",
  },

  // Completeness
  "stopped at the limit, but complete": {
    answer: fence("html", longPage("done")),
    stopReason: "length",
    verdict: "ok",
  },
  "said to be over, but cut off in a script": {
    answer: fence("html", longPage("cut").slice(0, 300)),
    stopReason: "stop",
    verdict: "truncated",
  },
  "cut off within a tag": { answer: '```html\n<!DOCTYPE html>\n<html><body><div class="lo', verdict: "truncated" },
  "cut off after whole elements": {
    answer: "```html\n<!DOCTYPE html>\n<html><body><main><p>One</p>",
    stopReason: "length",
    verdict: "truncated",
  },
  "a script of its own with brackets left open": {
    answer: `**index.html**\n${fence("html", LINKED)}\n**style.css**\n${fence("css", CSS)}\n**script.js**\n\`\`\`js\nfunction open() { if (level === 1) {`,
    stopReason: "length",
    verdict: "truncated",
  },
  "no closing tags, but nothing missing": {
    answer: fence("html", "<!DOCTYPE html>\n<title>Lock</title>\n<p>One<p>Two"),
    verdict: "ok",
  },
  "a script with brackets in its strings": {
    answer: fence("html", page('<script>\nconst s = "({["; const t = /[({]/; const u = `${s}{`;\n</script>')),
    verdict: "ok",
  },

  // Continued answers
  "continued in the middle of a line": {
    answer: [`\`\`\`html\n${longPage("long").slice(0, 200)}`, `${longPage("long").slice(200)}\n\`\`\``],
    text: `${longPage("long")}\n`,
  },
  "continued with an overlap": {
    answer: [`\`\`\`html\n${longPage("long").slice(0, 200)}`, `${longPage("long").slice(150)}\n\`\`\``],
    text: `${longPage("long")}\n`,
  },
  "continued with a sentence and a new fence": {
    answer: [
      `\`\`\`html\n${longPage("long").slice(0, 200)}`,
      `Continuing from where I left off:\n\n\`\`\`html\n${longPage("long").slice(180)}\n\`\`\``,
    ],
    text: `${longPage("long")}\n`,
  },
  "started again from the top": {
    answer: [
      `\`\`\`html\n${longPage("long").slice(0, 200)}`,
      `Sorry, here is all of it:\n\n\`\`\`html\n${longPage("long")}\n\`\`\``,
    ],
    text: `${longPage("long")}\n`,
  },

  // Nothing to show
  "a refusal": { answer: "I'm sorry, but I can't help with this request.", verdict: "refusal", entry: null },
  "a refusal in other words": {
    answer:
      "Thank you for asking. After some thought, I have to decline: this is not something I am comfortable building. I would be glad to help with something else.",
    verdict: "refusal",
  },
  "a page about a robbery that says it can't": {
    answer: fence("html", page("<p>Guard: I can't let you do that.</p>")),
    verdict: "ok",
  },
  "a refusal in part with a page": {
    answer: `I can't use the real coat of arms, so I drew one.\n\n${fence("html", longPage("arms"))}`,
    verdict: "ok",
  },
  "a plan without a page": {
    answer: "First I would draw the chamber. Then the gates. Shall I begin?",
    verdict: "no_artifact",
  },
  "a model that cannot run code but plans": {
    answer: "I can't run the code here. The game loop would call update and draw.",
    verdict: "no_artifact",
  },
  "code that no browser runs": { answer: fence("python", "import tkinter\nprint('lock')"), verdict: "no_artifact" },
  "white space only": { answer: " \n\t\u00a0\n", verdict: "empty" },
};

describe("messy answers", () => {
  it.each(Object.entries({ ...CASES, ...ODD_CASES }))(
    "%s",
    (_name, { answer, stopReason = "stop", verdict = "ok", kind, entry, paths, holds, lacks, text }) => {
      const found = extractArtifact(answer, { stopReason });
      const opened = found.files.find(({ path }) => path === found.entry)?.text ?? "";
      expect(found.verdict, JSON.stringify(found.trace)).toBe(verdict);
      if (kind !== undefined) expect(found.kind).toBe(kind);
      if (entry !== undefined) expect(found.entry).toBe(entry);
      if (paths !== undefined)
        expect(found.files.map(({ path }) => path).toSorted(), JSON.stringify(found.trace)).toEqual(paths.toSorted());
      if (holds !== undefined) expect(opened, JSON.stringify(found.trace)).toContain(holds);
      if (lacks !== undefined) expect(opened).not.toContain(lacks);
      if (text !== undefined) expect(opened).toBe(text);
    },
  );

  it("are at least sixty", () => {
    expect(Object.keys({ ...CASES, ...ODD_CASES }).length).toBeGreaterThanOrEqual(60);
  });

  it("add to a file what is said to come on top of it, and take what is said to replace it", () => {
    const start = `**index.html**\n${fence("html", LINKED)}\n**script.js**\n${fence("js", JS)}\n\n`;
    const scriptOf = (end: string) =>
      extractArtifact(start + end, { stopReason: "stop" }).files.find(({ path }) => path === "script.js")!.text;
    const more = fence("js", "// script.js\nfunction more() {}");
    expect(scriptOf(`Then add this to script.js:\n\n${more}`)).toBe(`${JS}\n\n// script.js\nfunction more() {}\n`);
    expect(scriptOf(`The updated script.js:\n\n${more}`)).toBe("// script.js\nfunction more() {}\n");
  });
});
