import type { Contest } from "../contract/index.js";

/** The form of a page for a prompt as it stands, against those for a `variant` of it. */
export const AS_IT_STANDS = "as it stands";
const TURN = "turn ";
/** The contests in which entrants meet each other. */
const BETWEEN: readonly Contest[] = ["entrants", "mended", "turn_pages"];

/** Who stands on a side of a bout: an entrant's version and, where it meets itself, which form of its page. */
export const nameSide = (versionId: string, form: string): string => (form === "" ? versionId : `${versionId} ${form}`);

/** The version and the form that a side's name is made of. */
export function readSide(side: string): { versionId: string; form: string } {
  const space = side.indexOf(" ");
  return space === -1
    ? { versionId: side, form: "" }
    : { versionId: side.slice(0, space), form: side.slice(space + 1) };
}

/** Whether two sides may meet in a contest. An entrant meets itself in all but those between entrants; turns meet the ones next to them, and variants the prompt as it stands. */
export function mayMeet(contest: Contest, a: string, b: string): boolean {
  if (BETWEEN.includes(contest)) return true;
  const [first, second] = [readSide(a), readSide(b)];
  if (first.versionId !== second.versionId) return false;
  if (contest === "hints") return (first.form === AS_IT_STANDS) !== (second.form === AS_IT_STANDS);
  if (contest === "turns") return Math.abs(turnOf(first.form) - turnOf(second.form)) === 1;
  return true;
}

const turnOf = (form: string): number => Number(form.slice(TURN.length));
