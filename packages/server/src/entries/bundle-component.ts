import { createRequire } from "node:module";
import { dirname } from "node:path";
import { build, type Loader, type Plugin } from "esbuild";
import { compileScript, compileStyle, compileTemplate, parse } from "vue/compiler-sfc";

interface SourceFile {
  path: string;
  text: string;
}

export type Bundled = { ok: true; page: string } | { ok: false; errors: string[] };

const require = createRequire(import.meta.url);
/** Libraries that a component may import; all else has to come with it. */
const SHELF = /^(?:react|react-dom|react\/jsx-runtime|react-dom\/client|vue)$/;
const LOADERS: Readonly<Record<string, Loader>> = {
  js: "jsx",
  mjs: "jsx",
  cjs: "jsx",
  jsx: "jsx",
  ts: "tsx",
  tsx: "tsx",
  css: "css",
  json: "json",
  svg: "dataurl",
};
const ENDINGS = ["", ".jsx", ".tsx", ".js", ".ts", ".vue", ".css", "/index.jsx", "/index.js"];
const MOST_ERRORS = 5;

/**
 * Wraps a component into a page that shows it, with the framework it is written for. Nothing of the component runs here:
 * it is only parsed and joined. What is missing or does not parse is told, never thrown.
 */
export async function bundleComponent(files: readonly SourceFile[], entry: string): Promise<Bundled> {
  const isVue = /\.vue$/i.test(entry);
  const starts = files.some(({ text }) => /\bcreateRoot\s*\(|\bReactDOM\.render\s*\(|\bcreateApp\s*\(/.test(text));
  const main = `./${entry}`;
  const mount = isVue
    ? `import { createApp } from "vue"; import App from ${JSON.stringify(main)}; createApp(App).mount("#root");`
    : starts
      ? `import ${JSON.stringify(main)};`
      : `import { createElement } from "react"; import { createRoot } from "react-dom/client"; import * as all from ${JSON.stringify(main)};
         const App = all.default ?? Object.values(all).find((item) => typeof item === "function");
         createRoot(document.getElementById("root")).render(createElement(App));`;
  try {
    const { outputFiles } = await build({
      stdin: { contents: mount, loader: "js", sourcefile: "mount.js", resolveDir: "/" },
      bundle: true,
      write: false,
      outdir: "/out",
      format: "iife",
      target: "es2022",
      jsx: "automatic",
      minify: true,
      legalComments: "none",
      logLevel: "silent",
      define: { "process.env.NODE_ENV": '"production"', __VUE_OPTIONS_API__: "true", __VUE_PROD_DEVTOOLS__: "false" },
      plugins: [ownFiles(files)],
    });
    const textOf = (ending: string) =>
      outputFiles
        .filter(({ path }) => path.endsWith(ending))
        .map(({ text }) => text)
        .join("\n");
    // An end tag within a string of the bundle would end the page's own script.
    const script = textOf(".js").replaceAll("</script", "<\\/script");
    const style = textOf(".css").replaceAll("</style", "<\\/style");
    return {
      ok: true,
      page: `<!doctype html>\n<html>\n<head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">${style === "" ? "" : `<style>${style}</style>`}</head>\n<body>\n<div id="root"></div>\n<div id="app"></div>\n<script>${script}</script>\n</body>\n</html>\n`,
    };
  } catch (thrown) {
    const errors = (thrown as { errors?: { text: string; location: { file: string; line: number } | null }[] }).errors;
    const told = errors?.map(({ text, location }) =>
      location ? `${location.file.replace(/^own:/, "")}:${location.line}: ${text}` : text,
    );
    return { ok: false, errors: (told ?? [String(thrown)]).slice(0, MOST_ERRORS) };
  }
}

/** Resolves a component's imports to its own files and to the shelf, and to nothing else on this machine. */
function ownFiles(files: readonly SourceFile[]): Plugin {
  const byPath = new Map(files.map((file) => [file.path.toLowerCase(), file]));
  const find = (path: string) =>
    ENDINGS.map((ending) => byPath.get((path + ending).toLowerCase())).find((file) => file !== undefined);
  return {
    name: "own-files",
    setup(builder) {
      builder.onResolve({ filter: /^/ }, ({ path, importer, namespace }) => {
        if (namespace === "file" && !path.startsWith(".") && importer !== "mount.js" && !importer.endsWith("mount.js"))
          return undefined;
        if (namespace === "file" && importer.includes("node_modules")) return undefined;
        const base = namespace === "own" ? dirname(importer) : "";
        const isLocal = path.startsWith(".") || path.startsWith("/") || path.startsWith("@/");
        if (isLocal) {
          const file = find(
            joinPath(path.startsWith(".") ? base : "", path.replace(/^@?\//, path.startsWith("@/") ? "src/" : "")),
          );
          if (file) return { path: file.path, namespace: "own" };
          return { errors: [{ text: `it imports ${path}, which it does not bring` }] };
        }
        if (SHELF.test(path)) return { path: require.resolve(path === "vue" ? "vue/dist/vue.esm-bundler.js" : path) };
        return { errors: [{ text: `it imports ${path}, which is not on the shelf` }] };
      });
      builder.onLoad({ filter: /^/, namespace: "own" }, ({ path }) => {
        const { text } = byPath.get(path.toLowerCase())!;
        if (/\.vue$/i.test(path)) return loadVue(path, text);
        const extension = /\.(\w+)$/.exec(path)?.[1]?.toLowerCase() ?? "js";
        return { contents: text, loader: LOADERS[extension] ?? "text" };
      });
    },
  };
}

function joinPath(base: string, path: string): string {
  const parts = base === "." || base === "" ? [] : base.split("/");
  for (const part of path.split("/")) {
    if (part === "..") parts.pop();
    else if (part !== "." && part !== "") parts.push(part);
  }
  return parts.join("/");
}

/** A single-file component as a module, its styles added to the page when it is loaded. */
function loadVue(path: string, source: string): { contents: string; loader: Loader } | { errors: { text: string }[] } {
  const { descriptor, errors } = parse(source, { filename: path });
  if (errors.length > 0) return { errors: errors.map((error) => ({ text: error.message })) };
  const id = `data-v-${descriptor.filename.length}`;
  const isScoped = descriptor.styles.some(({ scoped }) => scoped === true);
  const style = descriptor.styles
    .map(({ content, scoped }) => compileStyle({ source: content, filename: path, id, scoped: scoped === true }).code)
    .join("\n");
  const scope = isScoped ? `component.__scopeId = ${JSON.stringify(id)};` : "";
  const addStyle =
    style.trim() === ""
      ? ""
      : `document.head.append(Object.assign(document.createElement("style"), { textContent: ${JSON.stringify(style)} }));`;
  if (descriptor.script || descriptor.scriptSetup) {
    const { content } = compileScript(descriptor, {
      id,
      inlineTemplate: descriptor.scriptSetup !== null,
      genDefaultAs: "component",
    });
    const render =
      descriptor.scriptSetup === null && descriptor.template
        ? `${compileTemplate({ source: descriptor.template.content, filename: path, id }).code}\ncomponent.render = render;`
        : "";
    return { contents: `${content}\n${render}\n${scope}${addStyle}\nexport default component;`, loader: "ts" };
  }
  const template = compileTemplate({ source: descriptor.template?.content ?? "", filename: path, id });
  return {
    contents: `${template.code}\nconst component = { render };\n${scope}${addStyle}\nexport default component;`,
    loader: "ts",
  };
}
