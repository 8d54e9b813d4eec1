import { splitSentences } from "./prose.js";

/** More than this nobody reads beside a page. */
const MOST_ADMISSIONS = 12;
const LONGEST_CHARS = 300;
/** A text of full stops alone has millions of sentences; the shortest word that is looked for has four letters. */
const SHORTEST_CHARS = 4;

/** Words that answers use when they leave something out. */
const ADMITS: readonly RegExp[] = [
  /\b(?:left out|leaving out|leaves out|omitt?(?:ed|ing|s)|skipped|not included|excluded)\b/i,
  /(?:\b(?:not|never)|n['’]t) (?:yet )?(?:\w+ )?(?:implement|support|includ|handl|cover|add|finish|complet|work)\w*/i,
  /\b(?:simplif(?:y|ied|ication)s?|stub(?:bed)?|placeholders?|mock(?:ed)?(?: data)?|hard-?coded|rudimentary)\b/i,
  /\b(?:TODO|FIXME)\b/,
  /\b(?:for (?:brevity|simplicity)|to keep (?:it|this|things) (?:short|simple|brief))\b/i,
  /\b(?:you (?:can|could|may|might|should|would (?:need|have) to)|feel free to) (?:later |easily |then )?(?:add|extend|replace|fill in|implement|finish|complete|swap)\b/i,
  /\b(?:known (?:limitation|issue)s?|limitations?:|future (?:work|improvement)s?|in a (?:real|full|complete|production)\b)/i,
];

/**
 * Sentences in which an answer itself says that something was left out, made simpler or stood in for, as they stand there. Only its prose is looked at:
 * a page may say “omitted” on screen.
 */
export function findAdmissions(answer: string): string[] {
  const { sentences } = splitSentences(answer);
  const found = sentences.filter(
    (sentence) => sentence.length >= SHORTEST_CHARS && ADMITS.some((pattern) => pattern.test(sentence.slice(0, 2000))),
  );
  return [...new Set(found)].slice(0, MOST_ADMISSIONS).map((sentence) => sentence.slice(0, LONGEST_CHARS));
}
