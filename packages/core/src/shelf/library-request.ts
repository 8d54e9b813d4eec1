/** What a page asks of a public host, in the words of the package registry. */
export interface LibraryRequest {
  /** The package's name in the registry. */
  library: string;
  /** The version or range as the page gives it, or null for whatever is newest. */
  range: string | null;
  /** The file inside the package, or null for the one that it is meant to be loaded by. */
  path: string | null;
  /** Whether the host hands out modules whose bare imports it resolves itself. */
  isModule: boolean;
}

/** Names under which other hosts keep what the registry calls otherwise. */
const REGISTRY_NAMES: Readonly<Record<string, string>> = {
  "three.js": "three",
  threejs: "three",
  "chart.js": "chart.js",
  chartjs: "chart.js",
  "p5.js": "p5",
  "lodash.js": "lodash",
  "pixi.js": "pixi.js",
  "babel-standalone": "@babel/standalone",
  "font-awesome": "@fortawesome/fontawesome-free",
  "twitter-bootstrap": "bootstrap",
  "animate.css": "animate.css",
  "cannon.js": "cannon-es",
  tone: "tone",
  "moment.js": "moment",
  "mrdoob/three.js": "three",
  "processing/p5.js": "p5",
  "twbs/bootstrap": "bootstrap",
  "liabru/matter-js": "matter-js",
  "juliangarnier/anime": "animejs",
};

const registryName = (name: string): string => REGISTRY_NAMES[name.toLowerCase()] ?? name;

type Reader = (path: string) => LibraryRequest | null;

const NAME = /^((?:@[\w.-]+\/)?[\w.-]+)(?:@([^/]*))?(?:\/(.*))?$/;

/** `name@range/path`, as most hosts write it. */
const readPackagePath: Reader = (path) => {
  const match = NAME.exec(path);
  if (!match) return null;
  const [, name, range, file] = match;
  return { library: registryName(name!), range: tidyRange(range), path: file ? file : null, isModule: false };
};

const readModulePath: Reader = (path) => {
  const request = readPackagePath(path.replace(/^(?:v\d+|stable)\//, ""));
  return request && { ...request, isModule: true };
};

/** `name/version/file`, where the files lie flat whatever the package's folders are. */
const readFlat: Reader = (path) => {
  const match = /^([^/]+)\/([^/]+)\/(.+)$/.exec(path);
  return match
    ? { library: registryName(match[1]!), range: tidyRange(match[2]), path: `**/${match[3]!}`, isModule: false }
    : null;
};

const withoutQuery = (range: string) => range.split("?")[0]!;

/** A release name as a version: `r128` of a line whose minor counts the releases is 0.128. */
function tidyRange(range: string | undefined): string | null {
  if (range === undefined || range === "" || range === "latest") return null;
  const release = /^r(\d+)$/.exec(withoutQuery(range));
  return release ? `0.${release[1]!}` : withoutQuery(range).replace(/^v(?=\d)/, "");
}

const plain =
  (library: string, pattern: RegExp): Reader =>
  (path) => {
    const match = pattern.exec(path);
    return match && { library, range: tidyRange(match[1]), path: match[2] ? `**/${match[2]}` : null, isModule: false };
  };

/** Public hosts that hand out libraries, and how each of them writes what is asked for. */
const HOSTS: Readonly<Record<string, readonly Reader[]>> = {
  "cdn.jsdelivr.net": [
    (path) => (/^npm\/.*\/\+esm$/.test(path) ? readModulePath(path.slice(4, -5)) : null),
    (path) => (path.startsWith("npm/") ? readPackagePath(path.slice(4)) : null),
    (path) => {
      const match = /^gh\/([^/]+\/[^/@]+)(?:@([^/]*))?\/(.*)$/.exec(path);
      return match
        ? { library: registryName(match[1]!), range: tidyRange(match[2]), path: `**/${match[3]!}`, isModule: false }
        : null;
    },
  ],
  "unpkg.com": [readPackagePath],
  "www.unpkg.com": [readPackagePath],
  "cdnjs.cloudflare.com": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "ajax.googleapis.com": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "esm.sh": [readModulePath],
  "esm.run": [readModulePath],
  "cdn.skypack.dev": [readModulePath],
  "ga.jspm.io": [(path) => (path.startsWith("npm:") ? readModulePath(path.slice(4)) : null)],
  "cdn.tailwindcss.com": [
    (path) => ({ library: "@tailwindcss/browser", range: tidyRange(path || "3"), path: null, isModule: false }),
  ],
  "code.jquery.com": [plain("jquery", /^jquery-(\d[\d.]*\d)(?:\.(?:slim|min))*\.js$/)],
  "d3js.org": [plain("d3", /^d3(?:\.v(\d+))?(?:\.min)?\.js$/)],
  "threejs.org": [(path) => ({ library: "three", range: null, path, isModule: false })],
  "stackpath.bootstrapcdn.com": [plain("bootstrap", /^bootstrap\/([\d.]+)\/(.+)$/)],
  "maxcdn.bootstrapcdn.com": [plain("bootstrap", /^bootstrap\/([\d.]+)\/(.+)$/)],
  "pixijs.download": [plain("pixi.js", /^v?([\d.]+)\/(.+)$/)],
  "cdn.babylonjs.com": [() => ({ library: "babylonjs", range: null, path: null, isModule: false })],
};

/** What library an address on a public host stands for, or null when it is none that can be told. */
export function readLibraryRequest(address: string): LibraryRequest | null {
  const parts = /^(?:https?:)?\/\/([^/?#]+)\/?([^?#]*)(\?[^#]*)?/i.exec(address);
  if (!parts) return null;
  const path = decode(parts[2]!);
  if (path.split("/").includes("..")) return null;
  for (const read of HOSTS[parts[1]!.toLowerCase()] ?? []) {
    const request = read(path);
    if (request) return /[?&]module\b/.test(parts[3] ?? "") ? { ...request, isModule: true } : request;
  }
  return null;
}

function decode(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

/** The hosts that are understood, for looking for their addresses in a text. */
export const LIBRARY_HOSTS: readonly string[] = Object.keys(HOSTS);
