import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createFolderBlobStore } from "@tourney/store";
import { pino } from "pino";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { makePage } from "./make-page.js";
import type { PreparedPage, StageEntry } from "./exhibit-queries.sql.js";
import { createStagePages } from "./stage-pages.js";
import { pageInStage, stageDocument } from "@tourney/stage";

let blobsDir: string;
beforeAll(async () => {
  blobsDir = await mkdtemp(join(tmpdir(), "tourney-stage-pages-"));
});
afterAll(() => rm(blobsDir, { recursive: true, force: true }));

const NAMES = [{ name: "Sea Kale 9", aliases: [] }];
const put = (text: string) => createFolderBlobStore(blobsDir).put(Buffer.from(text));

async function entryOf(files: Record<string, string>): Promise<StageEntry> {
  const kept = await Promise.all(
    Object.entries(files).map(async ([path, text]) => ({ path, bytes: text.length, sha256: await put(text) })),
  );
  return { id: "00000000-0000-4000-8000-000000000000", entryPath: "index.html", files: kept, page: null };
}

function open(names: () => typeof NAMES) {
  const made = vi.fn();
  const keepPage = vi.fn((_id: string, _page: PreparedPage) => Promise.resolve());
  const pages = createStagePages({
    exhibits: { findRecorded: () => Promise.resolve(null), keepPage },
    readers: {
      read: (_name: string, order: Parameters<typeof makePage>[0]) => {
        made();
        return makePage(order);
      },
      close: () => undefined,
    } as never,
    listKnownNames: () => Promise.resolve(names()),
    ...{ blobsDir, exhibitOrigin: "http://127.0.0.1:1", log: pino({ level: "silent" }) },
  });
  return { pages, made, keepPage };
}

const sourceOf = async ({ page }: PreparedPage): Promise<string> =>
  pageInStage(
    stageDocument((await createFolderBlobStore(blobsDir).find(page))!.toString("latin1"), { names: null, bytes: 1 }),
  );

describe("what voters get of an entry", () => {
  it("is made once, with nobody's name in it, and again when its files are others", async () => {
    const { pages, made, keepPage } = open(() => NAMES);
    const entry = await entryOf({
      "index.html": `<!-- Sea Kale 9 --><script src="sea-kale-9.js"></script><img src="x.png">`,
      "sea-kale-9.js": "const by = 'Sea Kale 9';",
      "data.json": `{"by":"Sea Kale 9"}`,
    });
    const first = (await pages.find(entry))!;
    const source = await sourceOf(first);
    expect(source).toContain("<script src=");
    expect(source + atob(/base64,([A-Za-z0-9+/=]+)/.exec(source)![1]!)).not.toMatch(/kale/i);
    expect(first.beside.map(({ path }) => path)).toEqual([expect.not.stringMatching(/kale/i), "data.json"]);
    expect(keepPage).toHaveBeenCalledOnce();
    await pages.find({ ...entry, page: first });
    expect(made).toHaveBeenCalledOnce();
    const other = await entryOf({ "index.html": "<p>Another page of the same answer</p>" });
    expect(await sourceOf((await pages.find({ ...other, page: first }))!)).toBe(
      "<p>Another page of the same answer</p>",
    );
    expect(made).toHaveBeenCalledTimes(2);
  });

  it("still finds its files, whose names are blanked as where they are asked for", async () => {
    const { pages } = open(() => NAMES);
    const page = (await pages.find(
      await entryOf({
        "index.html": `<p id="seaKale9">x</p><img src="img/sea-kale-9.png"><script>load("img/" + name + ".png")</script>`,
        "img/sea-kale-9.png": "a picture",
      }),
    ))!;
    expect(await sourceOf(page)).toMatch(new RegExp(`src="data:[^"]*;base64,${btoa("a picture")}"`));
    expect(page.beside.map(({ path }) => path)).toEqual([expect.stringMatching(/^img\/ꞏ+\.png$/)]);
  });

  it("is made for all who ask for it at once", async () => {
    const { pages, made } = open(() => NAMES);
    const entry = await entryOf({ "index.html": "<p>One page</p>" });
    await Promise.all([1, 2, 3].map(() => pages.find(entry)));
    expect(made).toHaveBeenCalledOnce();
  });
});
