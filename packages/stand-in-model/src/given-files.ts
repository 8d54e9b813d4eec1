/** A file that a request gives: its name on a line of its own, then its text in a fence. */
const GIVEN = /^([\w@][\w@./ -]{0,199})\n(`{3,})\w*\n([^]*?)\n\2$/gm;

/** The files that a request gives, by their names. */
export const readGivenFiles = (request: string): ReadonlyMap<string, string> =>
  new Map([...request.matchAll(GIVEN)].map(([, name, , text]) => [name!, text!]));

/** Scripts that a hand-written page expects to be given, and what it can do without them: declare that there is nothing. */
const EXPECTED: Readonly<Record<string, string>> = { "wrecks.js": "const WRECKS = [];" };

/**
 * Puts the scripts that a page expects to be given into it, as they were given. A model knows nothing but what it was sent: without them the
 * page has no data, and looks like it.
 */
export function putInGivenFiles(page: string, request: string): string {
  const given = readGivenFiles(request);
  return page.replace(/<script src="([^"]+)"><\/script>/g, (link, name: string) => {
    const text = given.get(name) ?? EXPECTED[name];
    return text === undefined ? link : `<script>\n${text}\n</script>`;
  });
}
