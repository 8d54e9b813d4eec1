/** Answers that take long to read where a reader looks at the same place again and again; each by its length in characters. */
export interface HostileShape {
  name: string;
  make: (length: number) => string;
}

const fill = (unit: string, length: number) => unit.repeat(Math.ceil(length / unit.length)).slice(0, Math.ceil(length));
const page = (inside: string) =>
  `\`\`\`html\n<!doctype html><html><body><h1>A page</h1>${inside}</body></html>\n\`\`\`\n`;

/** Where a unit is repeated. */
export const HOSTILE_PLACES: Record<string, (text: string) => string> = {
  script: (text) => page(`<script>${text}</script>`),
  "script after a backtick": (text) => page(`<script>\`${text}</script>`),
  style: (text) => page(`<style>${text}</style>`),
  body: page,
  answer: (text) => text,
  "bare page": (text) => `<!doctype html><html><body>${text}`,
  "open fence": (text) => `\`\`\`html\n${text}`,
  "info string": (text) => `\`\`\` x${text}y\n<p>a</p>\n\`\`\``,
};

const SCRIPT_UNITS = [
  ..."/* |\"a\\|`a\\|\\`|'\\|//|/*!|/*! | |\"a\"|import |import'|export *|fetch( |`${|\\|x.src = '|new Worker( ".split(
    "|",
  ),
  ...['"Samphire 3",', '\\n"}', "é"],
];
const STYLE_UNITS = ["é", "1", "/* ", "url(", 'url("', "url( ", "@import ", "@import url(", "*/"];
const MARKUP_UNITS = [
  ...["<", "<!--", "<script>", '<script type="importmap">', "<a ", "<a b=", "&", "&#", "</html>", "</html ", "<html>"],
  ...[
    "<svg>",
    "<!doctype html>",
    "<style>",
    "<p>a</p>",
    "</b><i>",
    "<title>",
    "<div style='url(",
    "samphire ",
    '<b a="Samphire 3">',
  ],
];
const PROSE_UNITS = [
  ...["<think></think>", "<think>", "</think>\n", "\n</think>", "```", "```\n", "```html\n", "~~~\n", "> ", "{", "["],
  ...[
    '{"html":',
    '"',
    "\n",
    "cat <<EOF\n",
    "cat <<EOF\nEOF\n",
    "I can't ",
    "**a.js**\n",
    "// a.js\n",
    "<file name=a>",
    "File: a.html\n",
    ". ",
    ".",
    "}",
    "=",
    " ",
  ],
];

const shapesOf = (places: readonly string[], units: readonly string[]): HostileShape[] =>
  places.flatMap((place) =>
    units.map((unit) => ({
      name: `${place}: ${JSON.stringify(unit)}`,
      make: (length: number) => HOSTILE_PLACES[place]!(fill(unit, length)),
    })),
  );

/** One unit for half of the text, then another. */
const inHalves = (place: string, first: string, second: string): HostileShape => ({
  name: `${place}: ${JSON.stringify(first)}, then ${JSON.stringify(second)}`,
  make: (length) => HOSTILE_PLACES[place]!(fill(first, length / 2) + fill(second, length / 2)),
});

/** Shapes that took quadratic time once, or that look as if they might. */
export const HOSTILE_SHAPES: readonly HostileShape[] = [
  ...shapesOf(["script", "script after a backtick"], SCRIPT_UNITS),
  ...shapesOf(["style"], STYLE_UNITS),
  ...shapesOf(["body", "bare page"], MARKUP_UNITS),
  ...shapesOf(["answer", "open fence", "info string"], PROSE_UNITS),
  inHalves("answer", "```", "> <body </p>"),
  inHalves("answer", "*/", "@import"),
  inHalves("answer", " ", "<svg>"),
  inHalves("answer", "<?xml ", "<svg>"),
  inHalves("script", ": ", "<"),
  inHalves("info string", "<div>]", "}"),
];

/** Pieces of which a fuzzer makes shapes that nobody has thought of. */
export const HOSTILE_FRAGMENTS: readonly string[] = [
  ...["/*", "*/", "//", '"', "'", "`", "\\", "\n", "<", ">", "</", "<!--", "-->", "<script>", "</script>", "<style>"],
  ...["url(", ")", "import ", "<think>", "</think>", "```", "~~~", "{", "}", "[", "]", "&", "#", " ", "a", ":", "="],
  ...[
    "html",
    "</style>",
    "<div>",
    "</div>",
    "<svg>",
    "<title>",
    "<table>",
    "<b>",
    "</p>",
    "<template>",
    "<a href=",
    "src=",
  ],
  ...[
    "<![CDATA[",
    "<textarea>",
    "</html>",
    "<body ",
    "${",
    "@import",
    "data:text/html,",
    "data:;base64,",
    "%53",
    "\\u0053",
  ],
  ...[
    "&#83;",
    "amphire 3",
    "S",
    "\r\n",
    "\t",
    "- ",
    "1. ",
    "> ",
    "File: a.js",
    "**a.js**",
    '{"html":',
    "\\n",
    ".",
    "é",
  ],
  ...["<?xml ", "?>", "<svg ", "<meta ", "style=", "-", "=", "*", "_", "~", "getUserMedia({", "function a(", "1", "/"],
  ...["cat <<EOF\n", "EOF\n", "export ", "from ", "fetch(", ";", ",", "@", "!", "?", "|", "(", "\0", "I can't ", "📎"],
];

/** Names to look for, as when an answer is read in earnest. */
export const HOSTILE_NAMES = [
  { name: "Samphire 3", aliases: ["samphire-3"] },
  { name: "Thrift 2", aliases: [] },
];
