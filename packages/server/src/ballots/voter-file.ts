import { createHash } from "node:crypto";
import { type FileHandle, mkdir, open, rename, rm, statfs } from "node:fs/promises";
import { dirname } from "node:path";
import { deserialize, serialize } from "node:v8";
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
/** and at most so often: with two million ballots it has 50 MB. */
const PACE_MS = 600_000;
/** Bytes that a ballot takes in it at most, and the part of the disk's free room that it may take. */
const BALLOT_BYTES = 30;
const MOST_OF_ROOM = 0.1;

/** Before each record its length and its checksum, four bytes each. */
const RECORD_HEAD = 8;

/** A column of numbers from a record. Without a copy of its own, each would keep the whole record in memory. */
export const column = <T extends Uint8Array | Uint16Array | Int32Array | Uint32Array>(
  type: abstract new (...args: never[]) => T,
) => z.instanceof(type).transform((read) => read.slice() as T);

/** Whole numbers, as narrow as they were when they were written. */
export const numbers = z.union([column(Uint8Array), column(Uint16Array), column(Int32Array)]);

/**
 * A file with what a process holds of each voter's ballots, for the process that holds them next: to read two million from the database takes it and the process half a minute of
 * processor. Each voter has a mark, which tells whether the ballots are still those. A file that is damaged, or that something else was written into, counts as none.
 */
export class VoterFile<Head, Part> {
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

  /** Where there is little, the lead is told of it; answers and recordings come first. */
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
        await writeRecord(file, { form: await this.readForm(), head });
        for (const voter of voters) await writeRecord(file, voter);
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
    const opened = z.object({ form: z.literal(form), head }).safeParse(first.value);
    if (!opened.success) return null;
    const Voter = z.object({ id: z.uuid(), mark: z.string(), part });
    const voters: FiledVoter<Part>[] = [];
    for await (const record of records) voters.push(Voter.parse(record));
    return { head: opened.data.head, voters };
  }

  private readForm(): Promise<string> {
    this.form ??= this.db.select(Schema, SCHEMA).then(([row]) =>
      createHash("sha256")
        .update(JSON.stringify([row!.schema, this.options.statement]))
        .digest("hex"),
    );
    // Where the database was away, the next call asks again.
    this.form.catch(() => (this.form = undefined));
    return this.form;
  }
}

async function writeRecord(file: FileHandle, record: unknown): Promise<void> {
  const bytes = serialize(record);
  const head = Buffer.alloc(RECORD_HEAD);
  head.writeUInt32LE(bytes.length, 0);
  head.writeUInt32LE(crc32(bytes), 4);
  await file.appendFile(head);
  await file.appendFile(bytes);
}

/** One at a time. Ends before the first one that is not whole. */
async function* listRecords(file: FileHandle): AsyncGenerator {
  const { size } = await file.stat();
  for (let at = 0; at + RECORD_HEAD <= size;) {
    const head = await readBytes(file, at, RECORD_HEAD);
    const length = head.readUInt32LE(0);
    at += RECORD_HEAD + length;
    if (at > size) return;
    const bytes = await readBytes(file, at - length, length);
    if (crc32(bytes) !== head.readUInt32LE(4)) return;
    yield deserialize(bytes);
  }
}

async function readBytes(file: FileHandle, at: number, length: number): Promise<Buffer> {
  const { buffer, bytesRead } = await file.read(Buffer.allocUnsafeSlow(length), 0, length, at);
  return buffer.subarray(0, bytesRead);
}

const isMissing = (error: unknown): boolean => error instanceof Error && "code" in error && error.code === "ENOENT";
