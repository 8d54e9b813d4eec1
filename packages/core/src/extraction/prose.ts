import { findFences } from "./fences.js";

/** What an answer says besides its code, whole and in sentences; items of a list and headings are sentences, too. */
export function splitSentences(answer: string): { prose: string; sentences: string[] } {
  const prose = proseOf(answer);
  const sentences = prose
    .split(/(?<=[.!?…。！？])(?![.!?…。！？])\s*|\n+/)
    .map((sentence) => sentence.trim())
    .filter((sentence) => sentence !== "");
  return { prose, sentences };
}

/** The answer without fences, and without a page that stands in it as it is. */
function proseOf(answer: string): string {
  const page = /<!doctype\s+html|<html[\s>]|<svg[\s>]/i.exec(answer);
  const end = page
    ? Math.max(answer.toLowerCase().lastIndexOf("</html>"), answer.toLowerCase().lastIndexOf("</svg>"))
    : -1;
  const bare =
    page && !answer.slice(0, page.index).includes("```")
      ? `${answer.slice(0, page.index)}\n${end > page.index ? answer.slice(end + 7) : ""}`
      : answer;
  const parts: string[] = [];
  let from = 0;
  for (const { start, end } of findFences(bare)) {
    parts.push(bare.slice(from, start));
    from = end;
  }
  return [...parts, bare.slice(from)].join("\n").replace(/[`~]{3,}.*/g, "");
}
