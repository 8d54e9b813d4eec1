import { COMPONENT, CSS, fence, JS, LINKED, longPage, type MessyCase, page, SVG } from "./answers.js";

/** Answers in forms that are seldom: other marks than fences, ends that are not there, labels that tell the version. */
export const ODD_CASES: Record<string, MessyCase> = {
  // Between other marks than fences
  "files in elements with a path": {
    answer: `<file path="index.html">\n${LINKED}\n</file>\n<file path="style.css">\n${CSS}\n</file>\n<file path="script.js">\n${JS}\n</file>`,
    kind: "files",
    paths: ["index.html", "style.css", "script.js"],
  },
  "an element with a path that holds a fence": {
    answer: `<document name="index.html">\n${fence("html", longPage("inside"))}\n</document>\n\nThat is all.`,
    holds: "inside1",
    lacks: "```",
  },
  "a page with a frame that has a file's name": {
    answer: longPage("framed").replace(
      "<script>",
      '<iframe name="inner.html">\n<p>Frames are not shown here</p>\n</iframe>\n<script>',
    ),
    paths: ["index.html"],
    holds: "framed1",
  },
  "files between lines of signs": {
    answer: `=== index.html ===\n${LINKED}\n=== style.css ===\n${CSS}\n=== script.js ===\n${JS}`,
    kind: "files",
    paths: ["index.html", "style.css", "script.js"],
    lacks: "===",
  },
  "files under lines that name them": {
    answer: `File: index.html\n${LINKED}\n\nFile: style.css\n${CSS}\n\nFile: script.js\n${JS}\n`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "a page whose own remarks look like such lines": {
    answer: longPage("remarks").replace("<script>", "<script>\n// ===== input.js =====\n// ===== draw.js ====="),
    paths: ["index.html"],
    holds: "draw.js",
  },
  "JSON within a string of JSON": {
    answer: JSON.stringify(JSON.stringify({ html: longPage("twice") })),
    holds: "twice1",
  },
  "a code block by indentation": {
    answer: `Save this:\n\n${longPage("setin").replace(/^/gm, "    ")}\n\nDone.`,
    text: longPage("setin"),
  },
  // Ends
  "a closing mark behind the last character": {
    answer: `\`\`\`html\n${longPage("glued")}\`\`\`\nEnjoy!`,
    text: longPage("glued"),
  },
  "prose behind a page that no mark closes": {
    answer: `\`\`\`html\n${longPage("open")}\n\nThat is the whole game.`,
    verdict: "ok",
    text: longPage("open"),
  },
  "a style sheet whose mark is glued, and a script": {
    answer: `**index.html**\n${fence("html", LINKED)}\n**style.css**\n\`\`\`css\n${CSS}\`\`\`\n**script.js**\n${fence("js", JS)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  // Which version, by labels
  "two themes under headings": {
    answer: `### Light theme\n${fence("html", longPage("light"))}\n\n### Dark theme\n${fence("html", longPage("dark"))}`,
    holds: "light1",
  },
  "two sizes under short labels": {
    answer: `Desktop:\n${fence("html", longPage("desk"))}\n\nMobile version:\n${fence("html", longPage("mob"))}`,
    holds: "desk1",
  },
  "steps under headings": {
    answer: `### Step one\n${fence("html", longPage("bare"))}\n\n### Step two\n${fence("html", longPage("dressed"))}`,
    holds: "dressed1",
  },
  "a drawing, and a page to show it": {
    answer: `${fence("svg", SVG)}\n\nTo use it on a page:\n\n${fence("html", page(SVG))}`,
    kind: "svg",
    entry: "drawing.svg",
  },
  "a component, and the same as one page": {
    answer: `**App.jsx**\n${fence("jsx", COMPONENT)}\n\nOr as a single HTML file:\n\n${fence("html", page('<div id="root"></div><script src="https://cdn.example/react.js"></script><script>start()</script>'))}`,
    kind: "html",
    paths: ["index.html"],
  },
  "more of a script, added later": {
    answer: `**index.html**\n${fence("html", LINKED)}\n**style.css**\n${fence("css", CSS)}\n**script.js**\n${fence("js", JS)}\n\nThen add this to script.js:\n\n${fence("js", "// script.js\nfunction more() {}")}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  // Refusals and names
  "a refusal with a line of markup": {
    answer: `I can't build a game that targets a real person. You could begin with:\n\n${fence("html", "<h1>Title</h1>")}\n\nbut I won't go further.`,
    verdict: "refusal",
    kind: "none",
  },
  "a refusal in part with another page": {
    answer: `I can't draw that mascot, but here is a character of my own:\n\n${fence("html", longPage("own"))}`,
    verdict: "ok",
    holds: "own1",
  },
  "a question back": {
    answer: "Before I start: which keys should the boat use?",
    verdict: "no_artifact",
    kind: "none",
  },
  "names that lead astray": {
    answer: `**../../etc/x.html**\n${fence("html", LINKED)}\n**C:\\x\\style.css**\n${fence("css", CSS)}\n**__proto__/script.js**\n${fence("js", JS)}`,
    paths: ["index.html", "style.css", "script.js"],
  },
  "a name between underscores": {
    answer: `__index.html__\n${fence("html", longPage("under"))}`,
    entry: "index.html",
    holds: "under1",
  },
};
