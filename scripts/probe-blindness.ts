import { createHash } from "node:crypto";
import { get } from "node:http";
import { join } from "node:path";
import { text as readText } from "node:stream/consumers";
import { chromium, type Page } from "@playwright/test";
import { createRandom } from "@tourney/core/random";
import { pageInStage } from "@tourney/stage";
import { createFolderBlobStore } from "@tourney/store";
import { flag, openScene, type Scene } from "./booth-scene.js";

/**
 * Tries to tell who made what in the booth, by everything that a voter's traffic shows but the pages themselves, and prints one JSON line. The
 * entrants are made to differ where that could show: in the length of their pages, the number of their files, in drawings and pages, in
 * the size of their recordings, in whether they name themselves. Half of the bouts teach a naive Bayes classifier on ranks, by those features that tell something alone,
 * and the other half tries it: over HTTP, and in a real browser by its own record of the network. `chance` is what always guessing the commonest
 * entrant gets; `p` is the probability of doing so well by chance alone. A control shows that the classifier finds what is there to be
 * found: it is given the length of the output before it is padded.
 *
 * Beside that it reads what a curious voter can: the source of each stage with the page in it, its files, what the page keeps and what it logs. Every output
 * names its maker in all of them, and `told` lists where one was still to be read.
 *
 * `--bouts N` over HTTP (2000), `--browser N` in a browser (200).
 */
const BOUTS = flag("bouts", 2000);
const BROWSER_BOUTS = flag("browser", 200);
const ENTRANTS = 8;
const QUOTA = 100;

/** What showed of one stage, and of its bout, before the page was read. */
interface Sighting {
  /** Token of the stage: by it is looked up afterwards who made it. */
  token: string;
  features: number[];
}

/** What a page that names its maker everywhere has. */
const SIGNS =
  '<script>/* ME */ const maker = "\\nME"; localStorage.by = maker; document.cookie = "by=" + maker.trim(); console.log("%c" + maker, "color: teal"); const data = "data:application/json;base64," + btoa(JSON.stringify({ maker }));</script>';

function answer(promptKey: string, entrant: number): string {
  const page = (head: string, body: string) =>
    `<!doctype html><!-- by Name of entrant-${entrant} --><html><head><meta name="generator" content="Name of entrant-${entrant}"><title>${promptKey}</title>${head}</head><body><h1>${promptKey}, look ${entrant}</h1>${body}${SIGNS.replaceAll("ME", `Name of entrant-${entrant}`)}</body></html>`;
  switch (entrant) {
    case 1:
      return `Three files.\n\n\`index.html\`\n\`\`\`html\n${page('<link rel="stylesheet" href="style.css">', '<script src="app.js"></script>')}\n\`\`\`\n\n\`style.css\`\n\`\`\`css\nh1 { color: teal; }\n\`\`\`\n\n\`app.js\`\n\`\`\`js\ndocument.body.append("${promptKey}");\n\`\`\`\n`;
    case 2:
      return `\`\`\`svg\n<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60"><text y="20">${promptKey}, look ${entrant}</text></svg>\n\`\`\`\n`;
    case 3:
      return page("", `<p>Name of entrant-${entrant} made this.</p>`);
    default:
      return page(
        "",
        `<canvas></canvas><script>${"/* a line of drawing */\n".repeat(40 * 4 ** (entrant - 3))}</script>`,
      );
  }
}

/** Gives every entry a recording, the larger the higher the entrant's number. */
async function addRecordings({ pool, dataDir }: Scene): Promise<void> {
  const blobs = createFolderBlobStore(join(dataDir, "blobs"));
  const random = createRandom(3);
  const { rows } = await pool.query<{ id: string; key: string }>(
    "SELECT r.id, n.key FROM renders r JOIN entries e ON e.id = r.entry_id JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id",
  );
  for (const { id, key } of rows) {
    const entrant = Number(key.split("-").at(-1));
    const frames = [];
    for (let at = 0; at < 3; at++) {
      const bytes = Buffer.from(Uint8Array.from({ length: 3000 * (entrant + 1) }, () => random() * 256));
      const file = `${await blobs.put(bytes)}.webp`;
      frames.push({ atMs: at * 500, sha256: createHash("sha256").update(bytes).digest("hex"), file, thumbnail: file });
    }
    await pool.query("UPDATE renders SET recording = jsonb_set(recording, '{frames}', $2::jsonb) WHERE id = $1", [
      id,
      JSON.stringify(frames),
    ]);
  }
}

const tokenOf = (address: string): string => new URL(address).pathname.split("/")[2]!;

/** Everything of an answer but its body: times, lengths, headers; what is random by design as numbers too. */
function fetchShape(address: string): Promise<number[]> {
  const { host, port, pathname, hostname } = new URL(address);
  return new Promise((resolve, reject) => {
    const startedAt = performance.now();
    get({ host: "127.0.0.1", port, path: pathname, headers: { host }, agent: false }, (response) => {
      const firstMs = performance.now() - startedAt;
      let [bytes, chunks] = [0, 0];
      response.on("data", (part: Buffer) => {
        bytes += part.length;
        chunks += 1;
      });
      response.on("error", reject);
      response.on("end", () => {
        const headers = response.rawHeaders.filter(
          (_, at) =>
            !/^(?:date|x-request-id)$/i.test(at % 2 === 0 ? response.rawHeaders[at]! : response.rawHeaders[at - 1]!),
        );
        const digest = createHash("sha256").update(headers.join("\n")).digest().readUInt32BE();
        resolve([
          firstMs,
          performance.now() - startedAt,
          bytes,
          chunks,
          response.statusCode!,
          headers.join("").length,
          digest,
          ...lettersOf(tokenOf(address)),
          ...lettersOf(hostname.split("-")[1] ?? ""),
        ]);
      });
    }).on("error", reject);
  });
}

const lettersOf = (text: string): number[] => Array.from({ length: 4 }, (_, at) => text.charCodeAt(at) || 0);

const NAMED = /name of entrant/i;

/** What was looked at for names, and where one was. */
const sources = { looked: 0, told: new Set<string>() };
function lookForNames(where: string, text: string): void {
  sources.looked++;
  if (NAMED.test(text)) sources.told.add(where);
}
const read = new Set<string>();

/** Reads the source of a stage as a voter can who opens it. */
async function readSource(address: string): Promise<void> {
  if (read.size >= MOST_READ || read.has(address)) return;
  read.add(address);
  const { host, port, pathname } = new URL(address);
  const text = await new Promise<string>((resolve, reject) => {
    get({ host: "127.0.0.1", port, path: pathname, headers: { host } }, (response) => {
      readText(response).then(resolve, reject);
    }).on("error", reject);
  });
  lookForNames("a stage's script", text);
  lookForNames("a page's source", pageInStage(text));
}
const MOST_READ = 400;

interface Bout {
  token: string;
  ordinal: number;
  leftUrl: string;
  rightUrl: string;
  leftRecordingUrl: string;
  rightRecordingUrl: string;
}

async function watchOverHttp({ panelToken, newVoter }: Scene): Promise<Sighting[]> {
  const random = createRandom(5);
  const seen: Sighting[] = [];
  for (let voted = 0; voted < BOUTS;) {
    const voter = newVoter();
    await voter.call("POST", `/api/booth/${panelToken}/voters`, {});
    let { bouts } = (await voter.call("GET", `/api/booth/${panelToken}/bouts`)).body as { bouts: Bout[] };
    for (let bout = bouts[0]; bout && voted < BOUTS; bout = bouts[0], voted++) {
      const [left, right] = await Promise.all([bout.leftUrl, bout.rightUrl].map(fetchShape));
      await Promise.all([bout.leftUrl, bout.rightUrl].map(readSource));
      const recordings = await Promise.all([bout.leftRecordingUrl, bout.rightRecordingUrl].map(fetchShape));
      const startedAt = performance.now();
      const { body } = await voter.call("POST", `/api/booth/bouts/${bout.token}/ballot`, {
        lean: Math.floor(random() * 5) - 2,
        dwellMs: 100,
      });
      const receipt = [performance.now() - startedAt, JSON.stringify(body).length];
      const shared = [bout.ordinal, ...lettersOf(bout.token), ...receipt];
      for (const [side, [own, other, address]] of [
        [left!, right!, bout.leftUrl],
        [right!, left!, bout.rightUrl],
      ].entries() as Iterable<[number, [number[], number[], string]]>) {
        const apart = [0, 1, 2].map((at) => own[at]! - other[at]!);
        seen.push({
          token: tokenOf(address),
          features: [
            side,
            ...shared,
            ...own,
            ...apart,
            ...recordings[side]!,
            recordings[side]![2]! - recordings[1 - side]![2]!,
          ],
        });
      }
      ({ bouts } = (body as { queue: { bouts: Bout[] } }).queue);
    }
  }
  return seen;
}

/** What the browser's own record of the network says of each stage: how many requests, how large, when. */
async function watchInBrowser({ panelUrl }: Scene): Promise<Sighting[]> {
  const browser = await chromium.launch({
    executablePath: "/usr/bin/chromium",
    args: ["--disable-gpu", ...(process.getuid?.() === 0 ? ["--no-sandbox"] : [])],
  });
  const seen: Sighting[] = [];
  while (seen.length < 2 * BROWSER_BOUTS) {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    const traffic = recordTraffic(page);
    page.on("console", (message) => lookForNames("what a page logs", message.text()));
    await page.goto(panelUrl);
    await page.getByRole("button", { name: "Begin" }).click();
    await page.getByRole("button", { name: "Start voting" }).click();
    for (let done = 0; done < QUOTA && seen.length < 2 * BROWSER_BOUTS; done++) {
      await page.getByText(`${done} of ${QUOTA}`).first().waitFor();
      await page.locator("main:not([inert])").getByText("Getting both ready …").first().waitFor({ state: "hidden" });
      await page.waitForTimeout(150);
      const frames = page.locator("main:not([inert]) iframe");
      const addresses = await frames.evaluateAll((all) => all.map((frame) => (frame as HTMLIFrameElement).src));
      for (const [side, address] of addresses.entries())
        seen.push({ token: tokenOf(address), features: [side, ...(await traffic(new URL(address).host))] });
      for (const frame of page.frames().slice(1)) {
        const kept = await frame
          .evaluate(() =>
            JSON.stringify([Object.entries(localStorage), document.cookie, document.documentElement.outerHTML]),
          )
          .catch(() => "");
        lookForNames("what a page keeps and shows", kept);
      }
      await page.keyboard.press("3");
      await page.keyboard.press("Enter");
    }
    await page.context().close();
  }
  await browser.close();
  return seen;
}

/** @returns what was seen of a host: requests, bytes with and without headers, and the time of the first answer. */
function recordTraffic(page: Page): (host: string) => Promise<number[]> {
  const byHost = new Map<string, { url: string; sizes: Promise<number[]>; firstMs: number }[]>();
  page.on("requestfinished", (request) => {
    const { host } = new URL(request.url());
    const list = byHost.get(host) ?? [];
    byHost.set(host, list);
    const sizes = request
      .sizes()
      .then((all) => [all.responseBodySize, all.responseHeadersSize, all.requestHeadersSize]);
    const timing = request.timing();
    list.push({ url: request.url(), sizes, firstMs: timing.responseStart - timing.requestStart });
  });
  return async (host) => {
    const list = byHost.get(host) ?? [];
    const sizes = await Promise.all(list.map((one) => one.sizes));
    const sumOf = (at: number) => sizes.reduce((sum, size) => sum + size[at]!, 0);
    return [list.length, sumOf(0), sumOf(1), sumOf(2), list[0]?.firstMs ?? -1];
  };
}

/** Ranks within the training half are cut into so many parts. */
const PARTS = 12;
/** A feature that does so well by itself is looked at more closely: of 42 that tell nothing, fewer than one does. */
const TELLING_P = 0.02;

interface Labelled {
  features: readonly number[];
  label: string;
}

/** A naive Bayes classifier on ranks, of the features with the given places. */
function teach(taught: readonly Labelled[], places: readonly number[]): (features: readonly number[]) => string {
  const labels = [...new Set(taught.map(({ label }) => label))];
  const cuts = new Map(
    places.map((f) => {
      const sorted = taught.map(({ features }) => features[f]!).sort((a, b) => a - b);
      const at = (part: number) => sorted[Math.floor(((part + 1) * sorted.length) / PARTS)]!;
      return [f, [...new Set(Array.from({ length: PARTS - 1 }, (_, part) => at(part)))]] as const;
    }),
  );
  const partOf = (f: number, value: number) => cuts.get(f)!.filter((cut) => value >= cut).length;
  const totals = new Map(labels.map((label) => [label, taught.filter((one) => one.label === label).length]));
  const counts = new Map<string, number>();
  for (const { features, label } of taught) {
    for (const f of places) {
      const key = `${label} ${f} ${partOf(f, features[f]!)}`;
      counts.set(key, (counts.get(key) ?? 1) + 1);
    }
  }
  return (features) => {
    const score = (label: string) =>
      places.reduce(
        (sum, f) =>
          sum + Math.log((counts.get(`${label} ${f} ${partOf(f, features[f]!)}`) ?? 1) / (totals.get(label)! + PARTS)),
        Math.log(totals.get(label)!),
      );
    return labels.map((label) => ({ label, score: score(label) })).sort((x, y) => y.score - x.score)[0]!.label;
  };
}

/** How often a classifier is right, how often the commonest entrant is, and how likely so much is by chance. */
function measure(guess: (features: readonly number[]) => string, tried: readonly Labelled[]) {
  const right = tried.filter(({ features, label }) => guess(features) === label).length;
  const labels = tried.map(({ label }) => label);
  const commonest = Math.max(...[...new Set(labels)].map((label) => labels.filter((other) => other === label).length));
  const chance = commonest / tried.length;
  return { right: right / tried.length, chance, p: tailOf(right, tried.length, chance) };
}

/**
 * Chooses, on the first two quarters, the features that tell something by themselves; teaches the first half with them and tries the other. Without
 * any, all are used.
 */
function tryToTell(sightings: readonly Labelled[]) {
  const [half, quarter] = [Math.floor(sightings.length / 2), Math.floor(sightings.length / 4)];
  const all = sightings[0]!.features.map((_, f) => f);
  const telling = all.filter(
    (f) => measure(teach(sightings.slice(0, quarter), [f]), sightings.slice(quarter, half)).p < TELLING_P,
  );
  const tried = sightings.slice(half);
  const found = measure(teach(sightings.slice(0, half), telling.length > 0 ? telling : all), tried);
  return {
    stages: tried.length,
    telling: telling.length,
    right: round(found.right),
    chance: round(found.chance),
    p: round(found.p),
  };
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

/** The probability of at least so many successes of n, each with probability p. */
function tailOf(successes: number, n: number, p: number): number {
  let logTerm = n * Math.log(1 - p);
  let below = 0;
  for (let k = 0; k < successes; k++) {
    below += Math.exp(logTerm);
    logTerm += Math.log((n - k) / (k + 1)) + Math.log(p / (1 - p));
  }
  return Math.max(0, 1 - below);
}

const scene = await openScene({ name: "probe", prompts: 12, entrants: ENTRANTS, quota: QUOTA, answer });
try {
  await addRecordings(scene);
  const overHttp = await watchOverHttp(scene);
  const inBrowser = BROWSER_BOUTS > 0 ? await watchInBrowser(scene) : [];
  const { rows } = await scene.pool.query<{ token: string; key: string; bytes: number }>(
    `SELECT s.token, n.key, (SELECT sum((f->>'bytes')::int)::int FROM jsonb_array_elements(e.files) f) AS bytes
     FROM bouts o CROSS JOIN LATERAL (VALUES (o.left_token, o.left_entry_id), (o.right_token, o.right_entry_id)) AS s(token, entry_id)
       JOIN entries e ON e.id = s.entry_id JOIN generations g ON g.id = e.generation_id JOIN entrants n ON n.id = g.entrant_id`,
  );
  await scene.pool.end();
  const madeBy = new Map(rows.map(({ token, ...row }) => [token, row]));
  const label = (sightings: Sighting[]) =>
    sightings.map(({ token, features }) => ({
      features,
      label: madeBy.get(token)!.key,
      bytes: madeBy.get(token)!.bytes,
    }));
  const labelled = label(overHttp);
  const constant = labelled[0]!.features.map((_, f) => new Set(labelled.map(({ features }) => features[f])).size === 1);
  console.log(
    JSON.stringify({
      bouts: overHttp.length / 2,
      features: constant.length,
      varying: constant.filter((isConstant) => !isConstant).length,
      http: tryToTell(labelled),
      ...(inBrowser.length > 0 ? { browser: tryToTell(label(inBrowser)) } : {}),
      ...{ looked: sources.looked, told: [...sources.told] },
      control: tryToTell(labelled.map(({ features, bytes, ...rest }) => ({ ...rest, features: [...features, bytes] }))),
    }),
  );
} finally {
  scene.server.removeAllListeners("exit");
  scene.server.kill();
  await scene.end();
}
process.exit();
