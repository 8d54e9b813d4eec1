const IMPORT = /(\bfrom\s*|\bimport\s*(?:\(\s*)?)(["'])([^"'\n]+)\2/g;
const isBare = (specifier: string) => !/^(?:[./]|[a-z][a-z+.-]*:)/i.test(specifier);

/** How hosts that hand out modules address one by its name. */
const MODULE_ADDRESSES: Readonly<Record<string, (name: string) => string>> = {
  "cdn.jsdelivr.net": (name) => `https://cdn.jsdelivr.net/npm/${name}/+esm`,
  "unpkg.com": (name) => `https://unpkg.com/${name}?module`,
  "ga.jspm.io": (name) => `https://ga.jspm.io/npm:${name}`,
};

/**
 * The address under which a host hands out a package's module.
 *
 * @param host as in esm.sh
 * @param name with version and file, as far as they are known: d3, d3@7.9.0/src/index.js
 */
export const moduleAddress = (host: string, name: string): string =>
  MODULE_ADDRESSES[host]?.(name) ?? `https://${host}/${name}`;

/**
 * A module's text with its bare imports made addresses, as hosts of modules do; a page on its own has nothing that could
 * resolve them.
 */
export function addressBareImports(text: string, addressOf: (specifier: string) => string): string {
  return text.replace(IMPORT, (whole, lead: string, quote: string, specifier: string) =>
    isBare(specifier) ? `${lead}${quote}${addressOf(specifier)}${quote}` : whole,
  );
}

/** Whether a module's text exports something as its default. */
const hasDefault = (text: string): boolean =>
  /\bexport\s+default\b|\bas\s+default\b|\bexport\s*\{\s*default\b/.test(text);

/**
 * A module that hands on all of another: what is asked for under several addresses stays one module, with one state, as
 * libraries that keep some expect.
 */
export const handOn = (address: string, text: string): string =>
  `export * from ${JSON.stringify(address)};\n${hasDefault(text) ? `export { default } from ${JSON.stringify(address)};\n` : ""}`;
