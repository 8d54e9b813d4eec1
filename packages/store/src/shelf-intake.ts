import { toTourneyError } from "@tourney/core/errors";
import {
  chooseOnShelf,
  expandAddress,
  type LibraryRequest,
  readLibraryRequest,
  type ShelfPackage,
} from "@tourney/core/shelf";
import { satisfies, validRange } from "semver";
import * as z from "zod";
import { addPackage, listTaken, type SizeLimits, type Taken } from "./shelf-package.js";

/** `TOURNEY_SHELF_INTAKE`: whether what pages ask for is fetched. */
export const ShelfIntake = z.enum(["on", "off"]).default("on");

/** What comes from an answer's own words is held small: nobody looked at it. */
const LIMITS: SizeLimits = { packageBytes: 120e6, wholeBytes: 250e6 };
const MOST_ON_SHELF_BYTES = 3e9;
/** One page asks for no more libraries than this. */
const MOST_AT_A_TIME = 8;
/** What could not be had is not asked for again for so long: each recording would wait for it. */
const FAILED_FOR_MS = 10 * 60_000;

const REGISTRY = "the registry";

export interface IntakeOptions {
  folder: string;
  /** Told of what was taken in, and of what could not be. */
  tell: (event: { taken: Taken } | { refused: string; reason: string }) => void;
  /** Resolves when it may begin: nothing is fetched while Tourney starts. */
  mayBegin?: Promise<void>;
}

/** Takes in what pages ask for and the shelf lacks. */
export interface Intake {
  /** @returns how many packages are on the shelf that were not before. */
  takeIn: (addresses: readonly string[], packages: readonly ShelfPackage[]) => Promise<number>;
}

/**
 * Fetches from the npm registry what pages ask public hosts for: each once, of the version that is asked for, so that it is the same for
 * every page that asks. Files only: nothing of a package is run outside a page.
 */
export function createIntake({ folder, tell, mayBegin = Promise.resolve() }: IntakeOptions): Intake {
  const failedAt = new Map<string, number>();
  const hasFailed = (what: string) => performance.now() - (failedAt.get(what) ?? -Infinity) < FAILED_FOR_MS;
  const takeOne = async (spec: string): Promise<boolean> => {
    if (hasFailed(spec) || hasFailed(REGISTRY)) return false;
    try {
      const taken = await addPackage(folder, spec, LIMITS);
      if (taken !== null) tell({ taken });
      return true;
    } catch (thrown) {
      const { code, reason } = toTourneyError(thrown);
      // Where the registry says nothing, none of the others is asked for either.
      failedAt.set(code === "ENDPOINT_UNREACHABLE" ? REGISTRY : spec, performance.now());
      tell({ refused: spec, reason });
      return false;
    }
  };
  return {
    async takeIn(addresses, packages) {
      const specs = listLacking(addresses, packages).slice(0, MOST_AT_A_TIME);
      if (specs.length === 0) return 0;
      await mayBegin;
      const bytes = (await listTaken(folder)).reduce((sum, taken) => sum + taken.bytes, 0);
      if (bytes > MOST_ON_SHELF_BYTES) {
        for (const refused of specs) tell({ refused, reason: `the shelf holds ${Math.round(bytes / 1e6)} MB already` });
        return 0;
      }
      let count = 0;
      for (const spec of specs) if (await takeOne(spec)) count++;
      return count;
    },
  };
}

/**
 * Packages, with the versions that are asked for, that addresses on public hosts stand for and a shelf does not have.
 *
 * @returns specifiers as npm takes them, each once.
 */
export function listLacking(addresses: readonly string[], packages: readonly ShelfPackage[]): string[] {
  const requests = addresses
    .flatMap((address) => expandAddress(address) ?? [address])
    .flatMap((address) => readLibraryRequest(address) ?? []);
  return [...new Set(requests.filter((request) => isLacking(request, packages)).map(toSpec))];
}

function isLacking(request: LibraryRequest, packages: readonly ShelfPackage[]): boolean {
  const choice = chooseOnShelf(packages, request);
  if (choice !== null) return !choice.exact;
  // Where the version is there, it is a file of it that is not: fetching it again would not bring it.
  const range = validRange(request.range ?? "*");
  return !packages.some(
    ({ name, version }) =>
      name.toLowerCase() === request.library.toLowerCase() && range !== null && satisfies(version, range),
  );
}

function toSpec({ library, range }: LibraryRequest): string {
  const name = library.toLowerCase();
  // What is no range of versions may be a tag of the registry, as in `latest`.
  return range === null || range === ""
    ? name
    : `${name}@${(validRange(range) === null ? range : range).replace(/\s+/g, "")}`;
}
