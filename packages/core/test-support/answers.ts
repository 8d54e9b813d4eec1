/** Pieces that made-up answers are put together from. */
export const page = (body: string, head = ""): string =>
  `<!DOCTYPE html>\n<html>\n<head><title>Lock</title>${head}</head>\n<body>\n${body}\n</body>\n</html>`;

export const fence = (info: string, text: string, mark = "```"): string => `${mark}${info}\n${text}\n${mark}`;

/** A page long enough to be told from a snippet. */
export const longPage = (word: string): string =>
  page(
    `<canvas id="${word}"></canvas>\n<script>\n${Array.from({ length: 30 }, (_, i) => `const ${word}${i} = ${i} * 2;`).join("\n")}\nrequestAnimationFrame(function step() { requestAnimationFrame(step); });\n</script>`,
  );

/** An answer, and what a person would take from it. */
export interface MessyCase {
  answer: string | string[];
  stopReason?: string;
  verdict?: string;
  kind?: string;
  entry?: string | null;
  paths?: string[];
  /** Text that the file to open must hold, and text that it must not. */
  holds?: string;
  lacks?: string;
  /** The whole text of the file to open. */
  text?: string;
}

export const CSS = "body { margin: 0; background: #123; }\n.lock { width: 10px; }";
export const JS = 'const lock = document.querySelector(".lock");\nlock.onclick = () => lock.remove();';
export const LINKED = page(
  '<div class="lock"></div>\n<script src="script.js"></script>',
  '<link rel="stylesheet" href="style.css">',
);
export const SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><circle r="4"/></svg>';
export const COMPONENT =
  'import { useState } from "react";\nexport default function Lock() {\n  const [n, setN] = useState(0);\n  return (\n    <button onClick={() => setN(n + 1)}>{n} boats, don\'t wait</button>\n  );\n}';
