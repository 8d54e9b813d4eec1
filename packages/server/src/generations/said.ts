import type { FailureCause } from "@tourney/core/contract";

const DEEPEST = 6;
/** Under these names services put the words that are meant for people, the best first. */
const WORDS = [
  "message",
  "error",
  "msg",
  "detail",
  "details",
  "description",
  "error_description",
  "text",
  "title",
  "reason",
  "errors",
];

/** What a service says in an error of whatever shape, in its own words; null where it says nothing. */
export function readWords(said: unknown, depth = 0): string | null {
  if (typeof said === "string") return said.trim() === "" ? null : said.trim();
  if (typeof said !== "object" || said === null || depth > DEEPEST) return null;
  if (Array.isArray(said)) {
    const all = said.map((one) => readWords(one, depth + 1)).filter((words) => words !== null);
    return all.length === 0 ? null : all.join("; ");
  }
  for (const name of WORDS) {
    const words = readWords((said as Record<string, unknown>)[name], depth + 1);
    if (words !== null) return words;
  }
  return null;
}

const OUT_OF_CREDIT =
  /insufficient.{0,20}(?:credit|fund|balance|quota)|credit balance|exceeded your current quota|out of credits?|payment required|billing/i;
const IS_BUSY = /overload|capacity|unavailable|temporar|try again|timed? ?out|internal/i;
const IS_LIMIT = /rate.?limit|too many requests|slow down/i;

/** Whether a service wants to be paid before it goes on: asking again does not help. */
export const isOutOfCredit = (words: string, status: number | null): boolean =>
  status === 402 || OUT_OF_CREDIT.test(words);

/** What an error that came with a good status is about: told by its code where it has one, else by its words. */
export function judgeSaid(said: unknown): { cause: FailureCause; words: string; status: number | null } {
  const words = readWords(said) ?? JSON.stringify(said).slice(0, 300);
  const inner = findMember(said, "error") ?? said;
  const code = Number(findMember(inner, "code") ?? findMember(inner, "status"));
  const status = Number.isInteger(code) && code >= 400 && code <= 599 ? code : null;
  const type = findMember(inner, "type");
  const kind = `${typeof type === "string" ? type : ""} ${words}`;
  const at = (cause: FailureCause) => ({ cause, words, status });
  if (isOutOfCredit(kind, status) || status === 401 || status === 403) return at("unauthorized");
  if (status === 429 || IS_LIMIT.test(kind)) return at("rate_limited");
  if (status !== null && status < 500) return at("bad_request");
  return at(status !== null || IS_BUSY.test(kind) ? "server_error" : "bad_response");
}

function findMember(of: unknown, name: string): string | number | object | undefined {
  if (typeof of !== "object" || of === null) return undefined;
  const value = (of as Record<string, unknown>)[name];
  return typeof value === "string" || typeof value === "number" || (typeof value === "object" && value !== null)
    ? value
    : undefined;
}
