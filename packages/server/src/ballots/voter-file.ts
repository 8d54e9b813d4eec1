import { createHash } from "node:crypto";
import { type FileHandle, mkdir, open, rename, rm, statfs } from "node:fs/promises";
import { endianness } from "node:os";
import { dirname } from "node:path";
import { crc32 } from "node:zlib";
import * as z from "zod";
import type { Database } from "../db/connection.js";
import { Schema, SCHEMA } from "./changed-voters.sql.js";

/** What is held of a voter, with the mark of the ballots that it was read from. */
export interface FiledVoter<Part> {
  id: string;
  mark: string;
  part: Part;
}
export interface Filed<Head, Part> {
  /** What the parts of all voters are understood by. */
  head: Head;
  voters: readonly FiledVoter<Part>[];
}

/** Where what is held is written down for the next process that holds it, and who is told if that fails. */
export interface BallotFiles {
  dir: string;
  warn: (error: unknown) => void;
  /** Fewer are not written down: they are read from the database in no time. */
  leastBallots?: number;
}

interface VoterFileOptions<Head, Part> extends Omit<BallotFiles, "dir"> {
  path: string;
  /** What the parts are read with: of another statement, or another schema of the database, nothing is taken over. */
  statement: string;
  schemas: { head: z.ZodType<Head>; part: z.ZodType<Part> };
}

/** To read fewer takes less than a second of processor. */
const LEAST_BALLOTS = 20_000;
/** It is written again when so much of it has changed, */
const LEAST_SHARE = 0.1;
/** and at most so often: with two million ballots the larger one has 41 MB. */
const PACE_MS = 600_000;
/** Bytes that a ballot takes in it at most, and the part of the disk's free room that it may take. */
const BALLOT_BYTES = 30;
const MOST_OF_ROOM = 0.1;

/** Before each record the length of its description and the checksum of the whole, four bytes each. */
const RECORD_HEAD = 8;

const COLUMN_TYPES = { Uint8Array, Uint16Array, Int32Array, Uint32Array };
const ColumnType = z.enum(["Uint8Array", "Uint16Array", "Int32Array", "Uint32Array"]);
type Column = InstanceType<(typeof COLUMN_TYPES)[z.infer<typeof ColumnType>]>;
type Columns = Record<string, Column>;

/** How a record begins: what is no column, as JSON, and the columns whose bytes follow. */
const Description = z.object({
  rest: z.unknown(),
  columns: z.array(z.object({ name: z.string(), type: ColumnType, length: z.int().min(0) })),
});

/** Whole numbers, as narrow as they were when they were written. */
export const numbers = z.union([z.instanceof(Uint8Array), z.instanceof(Uint16Array), z.instanceof(Int32Array)]);

/**
 * A file with what a process holds of each voter's ballots, for the process that holds them next: to read two million from the database takes it and the process half a minute of
 * processor. Each voter has a mark, which tells whether the ballots are still those. A file that is damaged, or that something else was written into, counts as none.
 */
export class VoterFile<Head, Part extends object | null> {
  private unwritten = 0;
  private writtenAt = -Infinity;
  private form: Promise<string> | undefined;

  constructor(
    private readonly db: Database,
    private readonly options: VoterFileOptions<Head, Part>,
  ) {}

  /** @returns null where there is none that can be used */
  async read(): Promise<Filed<Head, Part> | null> {
    try {
      const form = await this.readForm();
      const file = await open(this.options.path);
      try {
        return await this.readRecords(file, form);
      } finally {
        await file.close();
      }
    } catch (error) {
      if (!isMissing(error)) this.options.warn(error);
      return null;
    }
  }

  /**
   * Writes what is held where that is worth it. Never fails: the next process then reads the database.
   *
   * @param readBallots how many were read from the database since the last call
   * @param heldBallots how many are held
   */
  async keep(readBallots: number, heldBallots: number, list: () => Filed<Head, Part>): Promise<void> {
    this.unwritten += readBallots;
    if (heldBallots < (this.options.leastBallots ?? LEAST_BALLOTS)) return;
    if (this.unwritten < heldBallots * LEAST_SHARE || performance.now() < this.writtenAt + PACE_MS) return;
    this.unwritten = 0;
    this.writtenAt = performance.now();
    try {
      if (await this.hasRoom(heldBallots * BALLOT_BYTES)) await this.write(list());
    } catch (error) {
      this.options.warn(error);
    }
  }

  /** Whether the disk has so much to spare: answers and recordings need it more. */
  private async hasRoom(bytes: number): Promise<boolean> {
    const folder = dirname(this.options.path);
    await mkdir(folder, { recursive: true, mode: 0o700 });
    const { bavail, bsize } = await statfs(folder);
    return bytes <= bavail * bsize * MOST_OF_ROOM;
  }

  private async write({ head, voters }: Filed<Head, Part>): Promise<void> {
    const { path } = this.options;
    // One name for all: what a process left that was ended meanwhile is written over.
    const unfinished = `${path}.part`;
    try {
      const file = await open(unfinished, "w", 0o600);
      try {
        await writeRecord(file, { rest: { form: await this.readForm(), head }, columns: {} });
        for (const { part, ...voter } of voters) {
          const { rest, columns } = takeApart(part);
          await writeRecord(file, { rest: { ...voter, part: rest }, columns });
        }
      } finally {
        await file.close();
      }
      await rename(unfinished, path);
    } catch (error) {
      await rm(unfinished, { force: true });
      throw error;
    }
  }

  private async readRecords(file: FileHandle, form: string): Promise<Filed<Head, Part> | null> {
    const { head, part } = this.options.schemas;
    const records = listRecords(file);
    const first = await records.next();
    const opened = z.object({ form: z.literal(form), head }).safeParse(first.done === true ? null : first.value.rest);
    if (!opened.success) return null;
    const Voter = z.object({ id: z.uuid(), mark: z.string(), part: z.looseObject({}).nullable() });
    const voters: FiledVoter<Part>[] = [];
    for await (const { rest, columns } of records) {
      const voter = Voter.parse(rest);
      voters.push({ ...voter, part: part.parse(voter.part && { ...voter.part, ...columns }) });
    }
    return { head: opened.data.head, voters };
  }

  private readForm(): Promise<string> {
    this.form ??= this.db.select(Schema, SCHEMA).then(([row]) =>
      createHash("sha256")
        .update(JSON.stringify([row!.schema, this.options.statement, endianness()]))
        .digest("hex"),
    );
    // Where the database was away, the next call asks again.
    this.form.catch(() => (this.form = undefined));
    return this.form;
  }
}

interface VoterRecord {
  rest: unknown;
  columns: Columns;
}

/** Columns are written from where they are, and read to where they stay: copies of all ballots would take as much memory as what is held. */
function takeApart(part: object | null): VoterRecord {
  const isColumn = (value: unknown): value is Column =>
    Object.values(COLUMN_TYPES).some((type) => value instanceof type);
  const entries = Object.entries(part ?? {}) as [string, unknown][];
  const columns = Object.fromEntries(entries.filter((entry): entry is [string, Column] => isColumn(entry[1])));
  return { rest: part && Object.fromEntries(entries.filter(([, value]) => !isColumn(value))), columns };
}

const bytesOf = ({ buffer, byteOffset, byteLength }: Column): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
const checksumOf = (pieces: readonly Uint8Array[]): number => pieces.reduce((sum, piece) => crc32(piece, sum), 0);

async function writeRecord(file: FileHandle, { rest, columns }: VoterRecord): Promise<void> {
  const described = Object.entries(columns).map(([name, { constructor, length }]) => ({
    ...{ name, type: constructor.name, length },
  }));
  const pieces = [Buffer.from(JSON.stringify({ rest, columns: described })), ...Object.values(columns).map(bytesOf)];
  const head = Buffer.alloc(RECORD_HEAD);
  head.writeUInt32LE(pieces[0]!.length, 0);
  head.writeUInt32LE(checksumOf(pieces), 4);
  const all = [head, ...pieces];
  const { bytesWritten } = await file.writev(all);
  if (bytesWritten < sumLengths(all)) throw new Error("The disk took only a part of what was written.");
}

const sumLengths = (pieces: readonly Uint8Array[]): number => pieces.reduce((sum, { length }) => sum + length, 0);

/** One at a time. Ends before the first one that is not whole. */
async function* listRecords(file: FileHandle): AsyncGenerator<VoterRecord, void, undefined> {
  const { size } = await file.stat();
  for (let at = 0; ;) {
    const record = await readRecord(file, at, size);
    if (record === null) return;
    yield record;
    at = record.end;
  }
}

/** @returns null where no whole one begins there */
async function readRecord(
  file: FileHandle,
  from: number,
  size: number,
): Promise<(VoterRecord & { end: number }) | null> {
  const head = Buffer.alloc(RECORD_HEAD);
  if (!(await fill(file, from, [head]))) return null;
  const length = head.readUInt32LE(0);
  const columnsFrom = from + RECORD_HEAD + length;
  if (columnsFrom > size) return null;
  const text = Buffer.alloc(length);
  const described = (await fill(file, from + RECORD_HEAD, [text])) ? readDescription(text) : null;
  if (described === null) return null;
  const bytes = described.columns.reduce(
    (sum, { type, length }) => sum + length * COLUMN_TYPES[type].BYTES_PER_ELEMENT,
    0,
  );
  if (columnsFrom + bytes > size) return null;
  const columns: Columns = Object.fromEntries(
    described.columns.map(({ name, type, length }) => [name, new COLUMN_TYPES[type](length)]),
  );
  const pieces = Object.values(columns).map(bytesOf);
  const isWhole = (await fill(file, columnsFrom, pieces)) && checksumOf([text, ...pieces]) === head.readUInt32LE(4);
  return isWhole ? { rest: described.rest, columns, end: columnsFrom + bytes } : null;
}

/** @returns whether the file has as much */
async function fill(file: FileHandle, from: number, pieces: readonly Uint8Array[]): Promise<boolean> {
  const wanted = sumLengths(pieces);
  return wanted === 0 || (await file.readv(pieces, from)).bytesRead === wanted;
}

function readDescription(text: Buffer): z.infer<typeof Description> | null {
  try {
    return Description.parse(JSON.parse(text.toString("utf8")));
  } catch {
    return null;
  }
}

const isMissing = (error: unknown): boolean => error instanceof Error && "code" in error && error.code === "ENOENT";
