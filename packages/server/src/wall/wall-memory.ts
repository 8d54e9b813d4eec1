import { randomUUID } from "node:crypto";
import { Wall, type WallAnswer, WallCell } from "@tourney/core/contract";
import { groupBy } from "@tourney/core/group-by";
import type { Changes } from "../changes/changes.js";
import { Kept, LONGEST_REST_MS } from "../changes/kept.js";
import { oncePer } from "../once-per.js";
import { ReadyAnswer } from "../http/ready-answer.js";
import type { WallCells, WallOptions, WallService } from "./service.js";

/** A cell as it goes over the wire. */
interface CellText {
  text: string;
  /** Of the wall, when this cell became what it is. */
  version: number;
}

/** A wall as it was read last. */
interface Remembered {
  /** How far cells had moved at the least when it was read. */
  told: number;
  /** When that was, in milliseconds. */
  movedAt: number;
  /** Counts what has changed of it. */
  version: number;
  /** All but the cells. */
  head: string;
  /** By wording, and of each wording by place. */
  cells: ReadonlyMap<string, ReadonlyMap<string, CellText>>;
  /** Places that are empty now, with the version since which they are. */
  emptied: ReadonlyMap<string, number>;
  /** As it goes to whoever holds none of it; null until somebody asks for that. */
  whole: Promise<ReadyAnswer> | null;
}

const Prompts = Wall.shape.prompts;
const Rest = Wall.omit({ cells: true, prompts: true });
/** Prompts as JSON; those of a frozen edition never change. */
const writePrompts = oncePer((prompts: Wall["prompts"]) => JSON.stringify(Prompts.parse(prompts)));
/** Leads look at a few takes of a few editions. */
const MOST_REMEMBERED = 12;

/**
 * Keeps walls as text by their cells. When something changes, only the cells of the wordings that the database names are read
 * again, and a page that holds a wall is sent only the cells that are others than in it.
 */
export class WallMemory {
  private readonly walls = new Map<string, Remembered>();
  /** One at a time for each wall: each builds on the one before. */
  private readonly reading = new Map<string, Promise<unknown>>();
  private readonly kept: Kept<Remembered>;
  /** Versions are counted anew with each start of the server. */
  private readonly start = randomUUID().slice(0, 8);

  constructor(private readonly deps: { wall: WallService; changes: Changes }) {
    this.kept = new Kept(deps.changes.of("cells"));
  }

  /** @param since the cursor of the wall that the page holds */
  async get(editionId: string, { since, ...options }: WallOptions & { since?: string | undefined }) {
    const key = JSON.stringify([editionId, options.take, options.round, options.versions]);
    const read = () => this.readInTurn(key, editionId, options);
    const before = this.walls.get(key);
    const kept = await this.kept.get(key, read);
    const last = this.walls.get(key) ?? kept;
    // The figures of its columns rest at times: what they were when the last cell changed may be old. Each reading makes another object.
    const isOld = last === before && performance.now() - last.movedAt < LONGEST_REST_MS;
    const wall = isOld ? await read() : last;
    const cursor = `${this.start}.${wall.version}`;
    const held = since === undefined ? null : this.versionOf(since, wall);
    if (held !== null) return new ReadyAnswer(write(wall, { cursor, held, since: since! }), `"${cursor}"`);
    // Of 5,000 cells it is 2.7 MB of text, which is made and packed once, however many ask for it.
    return (wall.whole ??= ReadyAnswer.pack(write(wall, { cursor, held: 0, since: null }), `"${cursor}"`));
  }

  private versionOf(cursor: string, wall: Remembered): number | null {
    const [start, version] = cursor.split(".");
    return start === this.start && Number(version) <= wall.version ? Number(version) : null;
  }

  private readInTurn(key: string, editionId: string, options: WallOptions): Promise<Remembered> {
    const reading = (this.reading.get(key) ?? Promise.resolve())
      .catch(() => undefined)
      .then(() => this.read(this.walls.get(key), editionId, options))
      .then((wall) => {
        this.walls.delete(key);
        this.walls.set(key, wall);
        for (const oldest of [...this.walls.keys()].slice(0, -MOST_REMEMBERED)) {
          this.walls.delete(oldest);
          this.reading.delete(oldest);
        }
        return wall;
      });
    this.reading.set(key, reading);
    return reading;
  }

  private async read(before: Remembered | undefined, editionId: string, options: WallOptions): Promise<Remembered> {
    const { told, wordingIds } = this.deps.changes.touchedSince(before?.told ?? null);
    const [head, cells] = await Promise.all([
      this.deps.wall.getHead(editionId, options),
      this.deps.wall.listCells(editionId, { ...options, wordingIds }),
    ]);
    return follow(before, { told, wordingIds, head: writeHead(head), cells });
  }
}

const writeHead = ({ prompts, ...rest }: Omit<Wall, "cells">): string =>
  `${JSON.stringify(Rest.parse(rest)).slice(0, -1)},"prompts":${writePrompts(prompts)}}`;

/**
 * What a page is sent of a wall, as text.
 *
 * @param held the version of the wall that the page holds: of it cells that came or changed later are sent. Versions begin at 1.
 */
function write(
  { head, cells, emptied }: Remembered,
  { cursor, held, since }: { cursor: string; held: number; since: string | null },
): string {
  const sent: string[] = [];
  for (const ofWording of cells.values())
    for (const { text, version } of ofWording.values()) if (version > held) sent.push(text);
  const places = since === null ? [] : [...emptied].filter(([, version]) => version > held);
  const rest = JSON.stringify({ cursor, since, emptied: places.map(([place]) => toPlace(place)) });
  return `${head.slice(0, -1)},"cells":[${sent.join(",")}],${rest.slice(1)}`;
}

/** The wall after a reading of all cells, or of those of the wordings that have changed. */
function follow(
  before: Remembered | undefined,
  read: { told: number; wordingIds: readonly string[] | null; head: string; cells: WallCells },
): Remembered {
  const { told, wordingIds, head } = read;
  // Versions go on where all is read again, since pages hold what was there before.
  const version = (before?.version ?? 0) + 1;
  const cells = new Map(before?.cells);
  const emptied = new Map(before?.emptied);
  let isOther = head !== before?.head;
  const fresh = groupBy(read.cells, ({ wordingId }) => wordingId);
  for (const wordingId of wordingIds ?? new Set([...cells.keys(), ...fresh.keys()])) {
    const former = cells.get(wordingId) ?? new Map<string, CellText>();
    const present = new Map<string, CellText>();
    for (const { cell } of fresh.get(wordingId) ?? []) {
      const place = `${cell.promptId} ${cell.versionId}`;
      const text = JSON.stringify(WallCell.parse(cell));
      const known = former.get(place);
      present.set(place, known?.text === text ? known : { text, version });
      if (known?.text === text) continue;
      isOther = true;
      emptied.delete(place);
    }
    for (const place of former.keys()) {
      if (present.has(place)) continue;
      isOther = true;
      emptied.set(place, version);
    }
    if (present.size === 0) cells.delete(wordingId);
    else cells.set(wordingId, present);
  }
  const movedAt = before?.told === told ? before.movedAt : performance.now();
  return isOther || before === undefined
    ? { told, movedAt, version, head, cells, emptied, whole: null }
    : { ...before, told, movedAt };
}

function toPlace(place: string): WallAnswer["emptied"][number] {
  const [promptId, versionId] = place.split(" ");
  return { promptId: promptId!, versionId: versionId! };
}
