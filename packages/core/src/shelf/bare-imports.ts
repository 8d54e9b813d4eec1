const IMPORT = /(\bfrom\s*|\bimport\s*(?:\(\s*)?)(["'])([^"'\n]+)\2/g;
const isBare = (specifier: string) => !/^(?:[./]|[a-z][a-z+.-]*:)/i.test(specifier);

/**
 * A module's text with its bare imports made addresses of the host that it came from, as hosts of modules do; a page on its own
 * has nothing that could resolve them.
 */
export function addressBareImports(text: string, origin: string): string {
  return text.replace(IMPORT, (whole, lead: string, quote: string, specifier: string) =>
    isBare(specifier) ? `${lead}${quote}${origin}/${specifier}${quote}` : whole,
  );
}
