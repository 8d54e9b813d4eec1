/** Under this address a file of a package can be asked for by its name. */
const fileAddress = (library: string, path: string) => `https://cdn.jsdelivr.net/npm/${library}/${path}`;

/** More parts than this no page asks for in one. */
const MOST_PARTS = 24;

/**
 * The addresses of which an address is made that asks for several files in one: scripts put together, or the fonts of a page with
 * their weights.
 *
 * @returns null where it asks for one file.
 */
export function expandAddress(address: string): string[] | null {
  const parts = /^(?:https?:)?\/\/([^/?#]+)(\/[^?#]*)(?:\?([^#]*))?/i.exec(address);
  if (parts === null) return null;
  const [, host, path, query = ""] = parts;
  if (host!.toLowerCase() === "cdn.jsdelivr.net" && path!.startsWith("/combine/")) {
    const files = decode(path!).slice("/combine/".length).split(",");
    return files.slice(0, MOST_PARTS).map((file) => `https://cdn.jsdelivr.net/${file}`);
  }
  if (host!.toLowerCase() !== "fonts.googleapis.com") return null;
  const families = query.split("&").flatMap((pair) => (pair.startsWith("family=") ? [decode(pair.slice(7))] : []));
  if (path === "/icon")
    return families.slice(0, MOST_PARTS).map((family) => fileAddress(asPackage(family), "index.css"));
  if (path === "/css2") return listFonts(families);
  return path === "/css" ? listFonts(families.flatMap((text) => text.split("|"))) : null;
}

function decode(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

/** Fonts by their family and weights, as both versions of the service write them. */
const listFonts = (families: readonly string[]): string[] =>
  families
    .flatMap((text) => {
      const [family, styles = ""] = text.split(":");
      return listWeights(styles).map((weight) => fileAddress(asPackage(family!), `${weight}.css`));
    })
    .slice(0, MOST_PARTS);

const asPackage = (family: string): string =>
  `@fontsource/${family
    .trim()
    .toLowerCase()
    .replace(/[\s+]+/g, "-")}`;

/** `400,700`, `wght@400;700`, `ital,wght@0,400;1,700` and `wght@100..900` as the names of a font package's style sheets. */
function listWeights(styles: string): string[] {
  const [axes, values = ""] = styles.includes("@") ? styles.split("@") : ["wght", styles.replaceAll(",", ";")];
  const names = axes!.split(",");
  const found = values.split(";").flatMap((value) => {
    const parts = value.split(",");
    const isItalic = parts[names.indexOf("ital")] === "1" || /i(?:talic)?$/.test(value);
    const weight = parts[Math.max(0, names.indexOf("wght"))] ?? "";
    // A whole range of weights is asked for: the two that pages use.
    const weights = weight.includes("..")
      ? ["400", "700"]
      : [/\d{3}/.exec(weight)?.[0] ?? (/^b/.test(weight) ? "700" : "400")];
    return weights.map((name) => `${name}${isItalic ? "-italic" : ""}`);
  });
  return [...new Set(found)];
}

/**
 * A style sheet's relative addresses made whole, so that it can stand among others.
 *
 * @param base the sheet's own address.
 */
export function addressRelative(css: string, base: string): string {
  const folder = base.slice(0, base.lastIndexOf("/") + 1);
  return css.replace(
    /url\(\s*(["']?)(?!data:|https?:|\/\/|#)(?:\.\/)*([^"')\s]+)\1\s*\)/g,
    (_whole, _quote: string, path: string) => `url(${folder}${path})`,
  );
}
