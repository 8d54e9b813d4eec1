import { describe, expect, it } from "vitest";
import { bundleComponent } from "./bundle-component.js";

const bundle = (files: Record<string, string>, entry: string) =>
  bundleComponent(
    Object.entries(files).map(([path, text]) => ({ path, text })),
    entry,
  );
const pageOf = async (files: Record<string, string>, entry: string) => {
  const bundled = await bundle(files, entry);
  expect(bundled).toMatchObject({ ok: true });
  return bundled.ok ? bundled.page : "";
};

describe("bundleComponent", () => {
  it("makes a page of a component with its own modules and styles", async () => {
    const page = await pageOf(
      {
        "src/App.jsx":
          'import { useState } from "react";\nimport { word } from "./word.js";\nimport "./app.css";\nexport default function App() { const [n] = useState(3); return <p className="gate">{word} {n} {"</script>"}</p>; }',
        "src/word.js": 'export const word = "boats";',
        "src/app.css": ".gate { color: teal }",
      },
      "src/App.jsx",
    );
    expect(page).toContain("boats");
    expect(page).toContain(".gate{color:teal}");
    // The script ends once, where the page says so.
    expect(page.match(/<\/script/g)).toHaveLength(1);
  });

  it("takes typed and single-file components", async () => {
    expect(
      await pageOf(
        { "App.tsx": "export default function App({ n = 1 }: { n?: number }) { return <b>{n}</b>; }" },
        "App.tsx",
      ),
    ).toContain("root");
    const vue =
      '<template><p class="x">{{ n }} locks</p></template>\n<script setup>\nimport { ref } from "vue";\nconst n = ref(2);\n</script>\n<style scoped>.x { color: red }</style>';
    const page = await pageOf({ "App.vue": vue }, "App.vue");
    expect(page).toContain("locks");
    expect(page).toContain("color: red");
  });

  it("tells what is missing, not on the shelf, or does not parse, and reads nothing of this machine", async () => {
    const failing = async (text: string) => {
      const bundled = await bundle({ "App.jsx": text }, "App.jsx");
      return bundled.ok ? [] : bundled.errors;
    };
    expect((await failing('import "./gone.css";\nexport default () => <p/>;')).join()).toContain(
      "App.jsx:1: it imports ./gone.css",
    );
    expect((await failing('import x from "left-pad";\nexport default () => <p/>;')).join()).toContain(
      "left-pad, which is not on the shelf",
    );
    expect((await failing('import x from "/etc/passwd";\nexport default () => <p/>;')).join()).toContain(
      "does not bring",
    );
    expect((await failing('import x from "../../../../etc/hosts";\nexport default () => <p/>;')).join()).toContain(
      "does not bring",
    );
    expect((await failing("export default () => <p>")).join()).toMatch(/App\.jsx:1/);
  });
});
