/** A piece of HTML that is safe to put into a page. */
export class Html {
  constructor(readonly text: string) {}
}

type Part = Html | string | number | null | readonly Part[];

const ESCAPES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };
const escape = (text: string): string => text.replace(/[&<>"']/g, (character) => ESCAPES[character]!);

function toText(part: Part): string {
  if (part === null) return "";
  if (part instanceof Html) return part.text;
  if (typeof part === "object") return part.map(toText).join("");
  return escape(String(part));
}

/** HTML with texts put in as texts, whatever characters they have. */
export const html = (strings: TemplateStringsArray, ...parts: readonly Part[]): Html =>
  new Html(
    strings.reduce((text, string, index) => text + string + (index < parts.length ? toText(parts[index]!) : ""), ""),
  );
