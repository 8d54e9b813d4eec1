import { existsSync } from "node:fs";
import { TourneyError } from "@tourney/core/errors";
import { addPackage, folderOf, listTaken, readShelfIndex } from "@tourney/store";
import { SHELF_DIR } from "./paths.js";
import { say, step } from "./step.js";

/** What pages load most; small enough to be fetched when Tourney is first started. */
export const SMALL_SHELF = [
  "three@0.160",
  "three@0.128",
  "d3@7",
  "chart.js@4",
  "chart.js@3",
  "matter-js@0.20",
  "gsap@3",
  "animejs@3",
  "jquery@3",
  "react@18",
  "react-dom@18",
  "p5@1",
  "tone@14",
  "phaser@3",
  "pixi.js@7",
  "@tailwindcss/browser@4",
  "tailwindcss-cdn@3",
] as const;

/** All that pages were seen to load, in the majors that they name. */
const WHOLE_SHELF = [
  ...SMALL_SHELF,
  "three@0.147",
  "three",
  "p5@2",
  "cannon",
  "cannon-es",
  "@babel/standalone@7",
  "animejs@4",
  "pixi.js@8",
  "tone@15",
  "lodash@4",
  "paper@0.12",
  "snapsvg@0.5",
  "plotly.js-dist-min@2",
  "@fontsource/inter",
  "@fontsource/roboto",
  "@fontsource/poppins",
  "@fontsource/playfair-display",
  "@fontsource/space-grotesk",
  "@fontsource/jetbrains-mono",
  "@fontsource/press-start-2p",
  "@fontsource/orbitron",
  "vue@3",
  "alpinejs@3",
  "htmx.org@1",
  "htmx.org@2",
  "@fortawesome/fontawesome-free@6",
  "bootstrap@4",
  "bootstrap@5",
] as const;

/** Puts libraries on the shelf, each with what it needs, in a folder of its own. Those that are there stay as they are. */
export async function addToShelf(names: readonly string[], flags: { all?: boolean }): Promise<void> {
  const wanted = flags.all === true ? WHOLE_SHELF : names;
  if (wanted.length === 0) {
    throw new TourneyError("INVALID_INPUT", {
      message: "No library is named.",
      reason: "`./tourney shelf add` puts npm packages on the shelf.",
      remedy: "Name them, as in `./tourney shelf add three@0.160 d3`, or give --all.",
    });
  }
  const failed: string[] = [];
  for (const name of wanted) {
    await step(
      `Adding ${name}`,
      () => addPackage(SHELF_DIR, name),
      (added) => added?.version ?? "is there",
    ).catch((error: unknown) => {
      // One that cannot be had does not keep the others away.
      failed.push(error instanceof TourneyError ? `${name}: ${error.reason}` : name);
    });
  }
  if (failed.length === 0) return;
  throw new TourneyError("SETUP_FAILED", {
    message: `${failed.length} of ${wanted.length} libraries could not be added.`,
    reason: failed.join("\n"),
    remedy: "Check the names and the connection to the npm registry, then run it again; the others stay.",
  });
}

/** Lists what is on the shelf. */
export async function listShelf(flags: { json?: boolean }): Promise<void> {
  const packages = (await readShelfIndex(SHELF_DIR)).toSorted((a, b) => a.name.localeCompare(b.name));
  const taken = new Map((await listTaken(SHELF_DIR)).map((item) => [`${item.name} ${item.version}`, item.integrity]));
  if (flags.json === true) {
    const listed = packages.map(({ name, version }) => ({
      name,
      version,
      integrity: taken.get(`${name} ${version}`) ?? null,
    }));
    console.log(JSON.stringify(listed));
  } else if (packages.length === 0) say("The shelf is empty. `./tourney shelf add NAME` puts a library on it.");
  else for (const { name, version } of packages) console.log(`${name} ${version}`);
}

/** Puts what pages load most on the shelf, if it is empty. Without a connection it stays so, which is said and not more. */
export async function fillShelf(): Promise<void> {
  const missing = SMALL_SHELF.filter((spec) => !existsSync(folderOf(SHELF_DIR, spec)));
  if (missing.length === 0) return;
  try {
    await step("Shelf of libraries", async (progress) => {
      for (const spec of missing) {
        progress(spec);
        await addPackage(SHELF_DIR, spec);
      }
    });
  } catch (error) {
    const reason = error instanceof TourneyError ? error.reason : String(error);
    say(`Pages that load libraries will lack some: ${reason}. \`./tourney shelf add\` adds them later.`);
  }
}
