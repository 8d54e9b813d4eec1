import { splitSentences } from "./prose.js";

/**
 * Whether an answer declines, by what it is: prose in the first person that says near its beginning that it will not or
 * cannot do what was asked. Told apart from a page that is only about refusing by looking at prose alone, fences left out.
 *
 * @param extent `whole` for an answer in which nothing was found, `part` for one that also holds a page.
 */
export function isRefusal(answer: string, extent: "whole" | "part"): boolean {
  const { prose, sentences } = splitSentences(answer);
  const counted = extent === "whole" ? sentences.slice(0, 6) : sentences;
  const declining = counted.filter(
    (sentence) => DECLINES.some((pattern) => pattern.test(sentence)) && !ABOUT_MEANS.test(sentence),
  );
  if (declining.length === 0) return false;
  if (extent === "part") return true;
  // A plan or a question is an answer, if not one that a browser can run.
  const isPlan =
    sentences.filter((sentence) => /^(?:[-*•]|\d+[.)])\s|:$/.test(sentence)).length > 4 && sentences.length > 10;
  return prose.length < 4000 && !isPlan;
}

const NOT =
  "(?:can(?:['’]?t|not| not)|could(?:n['’]t| not)|won['’]?t|will not|would(?:n['’]t| not)|(?:am|['’]m) (?:not |un)(?:able|willing|comfortable|allowed|permitted|going|prepared|in a position)|must (?:decline|refuse)|(?:have|need) to (?:decline|refuse|pass)|(?:respectfully |politely )?(?:decline|refuse)|(?:do|did)(?:n['’]t| not) (?:feel comfortable|want to|think I (?:can|should)))";
const DECLINES: readonly RegExp[] = [
  new RegExp(
    `\\bI(?:['’](?:m|d|ll|ve))?\\s+(?:(?:really|simply|just|therefore|also|regretfully|unfortunately)\\s+)*${NOT}\\b`,
    "i",
  ),
  new RegExp(`\\bI['’]m (?:not |un)(?:able|willing|comfortable|allowed|permitted|going|prepared)\\b`, "i"),
  /\bI['’]?(?:m| am)? (?:so |very |really )?sorry,? but\b/i,
  /\b(?:we|this assistant) (?:cannot|can['’]t|won['’]t|are unable to|must decline)\b/i,
  /\b(?:this|that|your|the) (?:request|prompt|task|content)\b[^.\n]{0,60}\b(?:violates?|against|not (?:allowed|permitted|something I)|outside (?:of )?what I|cannot be (?:fulfilled|completed))/i,
  /\b(?:unable|not able) to (?:help|assist|comply|fulfil?l|create|build|produce|generate|provide)\b/i,
  /\b(?:je (?:ne peux pas|ne suis pas en mesure|regrette)|désolée?,)/i,
  /\b(?:lo siento|no puedo (?:ayudar|crear|hacer|cumplir|generar)|me niego)\b/i,
  /\b(?:es tut mir leid|ich kann (?:dir |ihnen |das |dabei |diese)[^.\n]{0,40}nicht|leider kann ich)\b/i,
  /\b(?:mi dispiace|non posso (?:aiutare|creare|fare)|sinto muito|não posso|desculpe, mas)\b/i,
  /(?:я не могу|извините, но|к сожалению, я не|申し訳|お手伝いできません|対応できません|抱歉|无法(?:提供|帮助|完成|满足)|不能提供|죄송하지만|도와드릴 수 없)/,
];
/** What a model cannot do but builds all the same: run, test, see, hear. */
const ABOUT_MEANS =
  /\b(?:can(?:['’]?t|not)|could(?:n['’]t| not)|unable to|not able to)\s+(?:actually\s+|directly\s+|really\s+)?(?:run|test|execute|see|view|preview|render|open|verify|check|hear|play|access|browse|wait|think of|find a (?:way|reason)|recommend|stress|promise|guarantee)\b/i;
