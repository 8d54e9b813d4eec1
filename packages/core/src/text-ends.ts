/**
 * A text without the characters of a kind at its end. Takes time in proportion to what goes; a pattern such as `/ *$/` looks for the end anew from each
 * space of a run that something else follows.
 *
 * @param kind a pattern for one character
 */
export function trimEndOf(text: string, kind: RegExp): string {
  let end = text.length;
  while (end > 0 && kind.test(text[end - 1]!)) end--;
  return text.slice(0, end);
}
