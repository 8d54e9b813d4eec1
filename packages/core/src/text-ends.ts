/**
 * Cuts characters of one kind off the end of a text. The cost grows with what is cut. The pattern `/ *$/` costs more: in a run of spaces before other
 * text it searches for the end from each of the spaces.
 *
 * @param kind a pattern for one character
 */
export function trimEndOf(text: string, kind: RegExp): string {
  let end = text.length;
  while (end > 0 && kind.test(text[end - 1]!)) end--;
  return text.slice(0, end);
}
