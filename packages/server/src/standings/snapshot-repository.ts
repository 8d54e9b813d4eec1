import { promisify } from "node:util";
import { gunzip, gzip } from "node:zlib";
import { type Standing, StandingsSnapshot, type WhatCounts } from "@tourney/core/contract";
import type { CountedBallots } from "@tourney/core/standings";
import * as z from "zod";
import { toJson } from "../db/storable.js";
import type { Database } from "../db/connection.js";
import type { StandingsSnapshotModel } from "../db/models/standings-snapshot-model.js";

const pack = promisify(gzip);
const unpack = promisify<Buffer, Buffer>(gunzip);

/** A snapshot's own ballots, and its figures. */
export interface KeptSnapshot {
  snapshot: StandingsSnapshot;
  rows: Standing[];
  counted: CountedBallots;
}

const Counted = z.array(z.tuple([z.uuid(), z.int()]));
/** All but the ballots, which are many. */
const LISTED = [
  ...["id", "editionId", "name", "counts", "methodVersion", "inputDigest", "ballots", "takenAt", "removedAt"],
];

const toSnapshot = (row: StandingsSnapshotModel): StandingsSnapshot =>
  StandingsSnapshot.parse({
    ...{ id: row.id, editionId: row.editionId, name: row.name, counts: row.counts, ballots: row.ballots },
    ...{ methodVersion: row.methodVersion, inputDigest: row.inputDigest, takenAt: row.takenAt.toISOString() },
    removedAt: row.removedAt?.toISOString() ?? null,
  });

/** Standings as they were. */
export class SnapshotRepository {
  constructor(private readonly db: Database) {}

  async list(editionId: string): Promise<StandingsSnapshot[]> {
    const rows = await this.db.models.StandingsSnapshot.findAll({
      attributes: LISTED,
      where: { editionId, removedAt: null },
      order: [["takenAt", "DESC"], "id"],
    });
    return rows.map(toSnapshot);
  }

  async add({
    rows,
    counted,
    ...snapshot
  }: {
    editionId: string;
    name: string;
    counts: WhatCounts;
    methodVersion: string;
    inputDigest: string;
    ballots: number;
    rows: readonly Standing[];
    counted: CountedBallots;
  }): Promise<StandingsSnapshot> {
    const row = await this.db.models.StandingsSnapshot.create({
      ...{ ...snapshot, rows },
      counted: await pack(toJson([...counted])!),
    });
    return toSnapshot(await row.reload({ attributes: LISTED }));
  }

  /** @returns null where there is no such snapshot. */
  async find(id: string): Promise<KeptSnapshot | null> {
    const row = await this.db.models.StandingsSnapshot.findByPk(id);
    if (row === null) return null;
    const counted = Counted.parse(JSON.parse((await unpack(row.counted)).toString("utf8")));
    return { snapshot: toSnapshot(row), rows: row.rows as Standing[], counted: new Map(counted) };
  }

  /** @returns null where there is no such snapshot. */
  async setRemoved(id: string, isRemoved: boolean): Promise<StandingsSnapshot | null> {
    const row = await this.db.models.StandingsSnapshot.findByPk(id, { attributes: LISTED });
    return row && toSnapshot(await row.update({ removedAt: isRemoved ? new Date() : null }));
  }
}
