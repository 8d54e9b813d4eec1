import { createHash } from "node:crypto";
import { Readable } from "node:stream";
import { BUNDLE_FORMAT, BundledEntry, type BundleManifest, EVERYTHING } from "@tourney/core/contract";
import { keyOfVersion } from "@tourney/core/exports";
import type { BlobStore } from "@tourney/store";
import { ZipFile } from "yazl";
import type { EntrantService } from "../entrants/service.js";
import { within } from "../entries/save-entry.js";
import type { SuiteService } from "../suites/service.js";
import type { BundleRow } from "./entry-queries.sql.js";
import type { ExportService } from "../exports/service.js";
import { packRecords, type PackedRecords } from "./pack-records.js";
import type { BundleRepository } from "./repository.js";
import { recordsPath } from "./tables.js";

/** Answers and artifacts alone, or with suite, entrants, ballots and standings. */
export type BundleContent = "entries" | "all";

export interface Bundle {
  name: string;
  /** The zip, made while it is read: one file of it is in memory at a time. */
  stream: NodeJS.ReadableStream;
}

interface BundleDeps {
  bundles: BundleRepository;
  exportService: ExportService;
  suites: SuiteService;
  entrants: EntrantService;
  blobs: BlobStore;
  /** Pseudonyms cannot be told from names without it. */
  secret: string;
}

/** A file of a bundle, whose bytes are read when its turn comes; null where there are none any more. */
interface Part {
  path: string;
  /** The digest of a file that is kept by it. */
  sha256?: string;
  read: () => Promise<AsyncIterable<string | Buffer> | Iterable<string | Buffer> | null>;
}

const toJson = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/** Everything of an edition in one file, for keeping it or going on with it elsewhere. */
export function createBundleService({ bundles, exportService, suites, entrants, blobs, secret }: BundleDeps) {
  const textPart = (path: string, read: () => Promise<string>): Part => ({ path, read: async () => [await read()] });

  const blobPart = (path: string, sha256: string): Part => ({
    ...{ path, sha256 },
    read: async () => {
      const bytes = await blobs.find(sha256);
      return bytes && [bytes];
    },
  });

  function partsOfEntry(row: BundleRow, folder: string): Part[] {
    const { promptKey, entrantKey, isPresent } = row;
    const entry = BundledEntry.parse({
      ...row,
      prompt: promptKey,
      entrant: keyOfVersion(entrantKey, { number: row.version, isPresent }),
      files: row.files.map(({ path, sha256 }) => ({ path: within(path), sha256 })),
      entryPath: row.entryPath === null ? null : within(row.entryPath),
    } satisfies BundledEntry);
    return [
      textPart(`${folder}/entry.json`, () => Promise.resolve(toJson(entry))),
      textPart(`${folder}/answer.md`, () => bundles.readAnswer(row.id)),
      ...row.files.map(({ path, sha256 }) => blobPart(`${folder}/artifact/${within(path)}`, sha256)),
    ];
  }

  function partsOfEdition(editionId: string, { withNames }: { withNames: boolean }): Part[] {
    const ballots = { format: "jsonl" as const, counts: EVERYTHING, withNames, withAll: true };
    return [
      textPart("suite.yaml", async () => (await suites.exportFile(editionId)).yaml),
      textPart("entrants.json", async () =>
        toJson(
          (await entrants.list()).map(({ key, name, maker, model, version, settings, prices, endpoint, sample }) => ({
            ...{ key, name, maker, model, version, settings, prices, protocol: endpoint.protocol, sample },
          })),
        ),
      ),
      { path: "ballots.jsonl", read: async () => (await exportService.exportBallots(editionId, ballots)).chunks },
      {
        path: "standings.json",
        read: async () =>
          (await exportService.exportStandings(editionId, { format: "json", counts: EVERYTHING })).chunks,
      },
    ];
  }

  /** What another Tourney reads: the rows of the database, and the pictures of recordings. */
  const partsOfRecords = ({ spool, pictures }: PackedRecords): Part[] => [
    ...spool.list().map((table) => ({ path: recordsPath(table), read: () => Promise.resolve(spool.read(table)) })),
    ...pictures.map((sha256) => blobPart(`pictures/${sha256}.webp`, sha256)),
  ];

  return {
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async make(
      editionId: string,
      { content, withNames }: { content: BundleContent; withNames: boolean },
    ): Promise<Bundle> {
      const edition = await suites.getEdition(editionId);
      const rows = await bundles.listEntries(editionId);
      const folders = nameFolders(rows);
      const entryParts = rows.flatMap((row, index) => partsOfEntry(row, folders[index]!));
      const packed = content === "all" ? await packRecords(bundles, editionId, withNames ? null : secret) : null;
      const parts = [
        ...(packed ? [...partsOfEdition(editionId, { withNames }), ...partsOfRecords(packed)] : []),
        ...entryParts,
      ];
      const manifest: BundleManifest = {
        format: BUNDLE_FORMAT,
        content,
        madeAt: new Date().toISOString(),
        suite: { key: edition.suiteKey, title: edition.suiteTitle, edition: edition.number, digest: edition.digest },
        sample: edition.sample || rows.some(({ sample }) => sample),
        parts: [],
        missing: [],
        underWay: packed?.underWay ?? 0,
      };
      const stream = zipParts(parts, manifest);
      // Whether it was read to its end or not, nothing of it stays on the disk.
      const clean = () => void packed?.spool.remove();
      stream.once("end", clean).once("close", clean).once("error", clean);
      return {
        name: `${edition.suiteKey}-edition-${edition.number}-${content}.zip`,
        stream,
      };
    },
  };
}
export type BundleService = ReturnType<typeof createBundleService>;

/** A folder for each entry: `entries/<prompt>/<entrant>/take-1-round-2`, with a number where a hand mended it several times. */
function nameFolders(rows: readonly BundleRow[]): string[] {
  const taken = new Map<string, number>();
  return rows.map(({ promptKey, entrantKey, version, isPresent, take, turn, round, superseded, editedByHand }) => {
    const name = [
      `take-${take}`,
      ...(turn > 1 ? [`turn-${turn}`] : []),
      ...(round > 0 ? [`round-${round}`] : []),
      ...(editedByHand ? ["by-hand"] : []),
      ...(superseded ? ["superseded"] : []),
    ].join("-");
    const folder = `entries/${promptKey}/${keyOfVersion(entrantKey, { number: version, isPresent })}/${name}`;
    const before = taken.get(folder) ?? 0;
    taken.set(folder, before + 1);
    return before === 0 ? folder : `${folder}-${before + 1}`;
  });
}

/** Zips the parts one after the other, and at last what they came to. */
function zipParts(parts: readonly Part[], manifest: BundleManifest): NodeJS.ReadableStream {
  const zip = new ZipFile();
  const add = (path: string, read: () => Promise<Readable>) =>
    zip.addReadStreamLazy(path, {}, (done) => {
      read().then(
        (stream) => done(null, stream),
        (error: unknown) => done(error, Readable.from([])),
      );
    });
  for (const part of parts) {
    add(part.path, async () => {
      const chunks = await part.read();
      if (chunks === null) manifest.missing.push({ path: part.path, sha256: part.sha256! });
      return Readable.from(chunks === null ? [] : measure(chunks, part.path, manifest), { objectMode: false });
    });
  }
  add("manifest.json", () => Promise.resolve(Readable.from([toJson(manifest)], { objectMode: false })));
  zip.end();
  return zip.outputStream;
}

/** Passes bytes on, and notes in the manifest what they came to. */
async function* measure(
  chunks: AsyncIterable<string | Buffer> | Iterable<string | Buffer>,
  path: string,
  manifest: BundleManifest,
): AsyncGenerator<Buffer> {
  const hash = createHash("sha256");
  let bytes = 0;
  for await (const chunk of chunks) {
    const piece = Buffer.from(chunk);
    hash.update(piece);
    bytes += piece.length;
    yield piece;
  }
  manifest.parts.push({ path, bytes, sha256: hash.digest("hex") });
}
