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
  "cannon.js": "cannon",
  "paper.js": "paper",
  "snap.svg": "snapsvg",
  "plotly.js": "plotly.js-dist-min",
  "babylonjs-loaders": "babylonjs-loaders",
  "moment-timezone": "moment-timezone",
  jqueryui: "jquery-ui-dist",
  "anime.js": "animejs",
  "phaser.js": "phaser",
  "schteppe/cannon.js": "cannon",
  "paperjs/paper.js": "paper",
  "adobe-webplatform/snap.svg": "snapsvg",
  "photonstorm/phaser": "phaser",
  "pixijs/pixi.js": "pixi.js",
  "d3/d3": "d3",
  "jquery/jquery": "jquery",
  tone: "tone",
  "moment.js": "moment",
  "mrdoob/three.js": "three",
  "processing/p5.js": "p5",
  "twbs/bootstrap": "bootstrap",
  "liabru/matter-js": "matter-js",
  "juliangarnier/anime": "animejs",
};

const registryName = (name: string): string => REGISTRY_NAMES[name.toLowerCase()] ?? name;

type Reader = (path: string, query?: string) => LibraryRequest | null;

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

/** A host that builds modules: `*` leaves the imports as they are, and behind the name may stand what it was built for and the built file. */
const readBuiltModule: Reader = (path) => {
  const request = readModulePath(path.replace(/^((?:v\d+|stable)\/)?\*/, "$1"));
  if (request?.path == null) return request;
  const built =
    /^(?:X-[\w-]+\/)?(?:es20\d\d|esnext|denonext|deno|node|browserlist)\/(.+?)(?:\.bundle|\.development|\.nobundle)*\.m?js$/.exec(
      request.path,
    );
  if (built === null) return request;
  // The file that is called like its package is the one that it is loaded by.
  const own = request.library.slice(request.library.lastIndexOf("/") + 1).replace(/\.js$/, "");
  return { ...request, path: built[1]!.replace(/\.js$/, "") === own ? null : built[1]! };
};

/** `pin/name@v1.2.3-hash/mode=…/optimized/file` and `-/name@v1.2.3-hash/…`: addresses that a host of modules hands out itself. */
const readPinned: Reader = (path) => {
  const match =
    /^(?:pin|-)\/((?:@[\w.-]+\/)?[\w.-]+)@v?(\d+(?:\.\d+){0,2})(?:[^/\d][^/]*)?\/(?:.*\/)?optimized\/(.+)$/.exec(path);
  if (match === null) return null;
  const [, name, version, file] = match;
  const own = name!.slice(name!.lastIndexOf("/") + 1);
  const isMain = file!.replace(/\.js$/, "") === own || file!.replace(/\.js$/, "") === name;
  return { library: registryName(name!), range: version!, path: isMain ? null : file!, isModule: true };
};

/** `owner/name/version/file` of a repository, as hosts that hand out its files write it. */
const readRepository: Reader = (path) => {
  const match = /^([^/]+\/[^/@]+)[/@]([^/]*)\/(.*)$/.exec(path);
  return match
    ? { library: repositoryName(match[1]!), range: tidyRange(match[2]), path: `**/${match[3]!}`, isModule: false }
    : null;
};

/** The package of a repository: by the list above, else by the repository's own name. */
const repositoryName = (repository: string): string => {
  const known = registryName(repository);
  return known === repository ? registryName(repository.slice(repository.indexOf("/") + 1)) : known;
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

/**
 * The script of a styling library's third major that works in the page. A package holds it in several versions, each in a folder of its own,
 * with each of the library's own plugins or with all of them.
 */
const readPlayScript: Reader = (path, query = "") => {
  const version = tidyRange(path.replace(/\/$/, "") || undefined);
  const plugins = (/[?&]plugins=([^&]*)/.exec(query)?.[1] ?? "").split(/,|%2C/i).filter((name) => name !== "");
  const one = plugins.length === 1 ? plugins[0]!.split("@", 1)[0]! : null;
  const variant = plugins.length === 0 ? "" : PLAY_PLUGINS.has(one ?? "") ? `-with-${one!}` : "-with-all-plugins";
  const file = `tailwindcss${variant}.js`;
  const folder = version === null ? "" : `${version}/`;
  return { library: "tailwindcss-cdn", range: version ?? "3", path: `**/${folder}${file}`, isModule: false };
};
const PLAY_PLUGINS = new Set(["aspect-ratio", "container-queries", "forms", "typography"]);

const whole = (library: string): LibraryRequest => ({ library, range: null, path: null, isModule: false });

/** Public hosts that hand out libraries, and how each of them writes what is asked for. */
const HOSTS: Readonly<Record<string, readonly Reader[]>> = {
  "cdn.jsdelivr.net": [
    (path) => (/^npm\/.*\/\+esm$/.test(path) ? readModulePath(path.slice(4, -5)) : null),
    (path) => (path.startsWith("npm/") ? readPackagePath(path.slice(4)) : null),
    (path) => {
      const match = /^gh\/([^/]+\/[^/@]+)(?:@([^/]*))?\/(.*)$/.exec(path);
      return match
        ? { library: repositoryName(match[1]!), range: tidyRange(match[2]), path: `**/${match[3]!}`, isModule: false }
        : null;
    },
  ],
  "unpkg.com": [readPackagePath],
  "www.unpkg.com": [readPackagePath],
  "cdnjs.cloudflare.com": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "cdnjs.com": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "cdn.bootcdn.net": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "cdn.staticfile.org": [readFlat],
  "ajax.googleapis.com": [(path) => (path.startsWith("ajax/libs/") ? readFlat(path.slice(10)) : null)],
  "esm.sh": [(path) => (path.startsWith("gh/") ? null : readBuiltModule(path))],
  "esm.run": [readModulePath],
  "cdn.skypack.dev": [readPinned, readModulePath],
  "jspm.dev": [(path) => readModulePath(path.replace(/^npm:/, ""))],
  "ga.jspm.io": [(path) => (path.startsWith("npm:") ? readModulePath(path.slice(4)) : null)],
  "cdn.tailwindcss.com": [readPlayScript],
  "code.jquery.com": [
    plain("jquery", /^jquery-(\d[\d.]*\d)(?:\.(?:slim|min))*\.js$/),
    plain("jquery-ui-dist", /^ui\/(\d[\d.]*\d)\/(?:themes\/[\w-]+\/)?(.+)$/),
  ],
  "d3js.org": [plain("d3", /^d3(?:\.v(\d+))?(?:\.min)?\.js$/)],
  "threejs.org": [(path) => ({ library: "three", range: null, path, isModule: false })],
  "stackpath.bootstrapcdn.com": [plain("bootstrap", /^bootstrap\/([\d.]+)\/(.+)$/)],
  "maxcdn.bootstrapcdn.com": [plain("bootstrap", /^bootstrap\/([\d.]+)\/(.+)$/)],
  "pixijs.download": [plain("pixi.js", /^v?([\d.]+)\/(.+)$/)],
  "netdna.bootstrapcdn.com": [plain("bootstrap", /^bootstrap\/([\d.]+)\/(.+)$/)],
  "use.fontawesome.com": [plain("@fortawesome/fontawesome-free", /^releases\/v([\d.]+)\/(.+)$/)],
  "cdn.babylonjs.com": [
    plain("babylonjs-loaders", /^(?:v[\d.]+\/)?loaders\/().+$/),
    (path) => (/^(?:v[\d.]+\/)?babylon(?:\.max)?\.js$/.test(path) ? whole("babylonjs") : null),
  ],
  "aframe.io": [plain("aframe", /^releases\/([\d.]+)\/(aframe(?:\.min)?\.js)$/)],
  "cdn.plot.ly": [plain("plotly.js-dist-min", /^plotly(?:-[a-z0-9]+)?-(latest|\d[\d.]*\d)(?:\.min)?\.js$/)],
  "rawcdn.githack.com": [readRepository],
  "raw.githack.com": [readRepository],
  "cdn.rawgit.com": [readRepository],
  "raw.githubusercontent.com": [readRepository],
  "cdn.statically.io": [(path) => (path.startsWith("gh/") ? readRepository(path.slice(3)) : null)],
  // Style sheets of fonts are made of several files of the shelf: see `expandAddress`.
  "fonts.googleapis.com": [],
};

/** What library an address on a public host stands for, or null when it is none that can be told. */
export function readLibraryRequest(address: string): LibraryRequest | null {
  const parts = /^(?:https?:)?\/\/([^/?#]+)\/?([^?#]*)(\?[^#]*)?/i.exec(address);
  if (!parts) return null;
  const path = decode(parts[2]!);
  if (path.split("/").includes("..")) return null;
  for (const read of HOSTS[parts[1]!.toLowerCase()] ?? []) {
    const request = read(path, parts[3] ?? "");
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
