import * as z from "zod";
import type { Database } from "../db/connection.js";
import {
  LONGEST_PAGE,
  PICTURES,
  PicturesRow,
  type PreparedPage,
  STAGE,
  StageEntry,
  StageRow,
} from "./exhibit-queries.sql.js";

/** What the exhibit origin asks of the database. */
export type ExhibitReads = Pick<ExhibitRepository, "findStage" | "listPictures" | "findLongestPage">;

/** What the exhibit origin serves to booths. */
export class ExhibitRepository {
  constructor(private readonly db: Database) {}

  /** What is shown on the stage of a token; null for a token that is not one. */
  async findStage(token: string): Promise<StageRow | null> {
    const [row] = await this.db.select(StageRow, STAGE, [token]);
    return row ?? null;
  }

  /** The entry that a recording is of. */
  async findRecorded(renderId: string): Promise<StageEntry | null> {
    const { Entry, Render } = this.db.models;
    const render = await Render.findByPk(renderId, { attributes: ["entryId"] });
    const row =
      render && (await Entry.findByPk(render.entryId, { attributes: ["id", "entryPath", "files", "stagePage"] }));
    return row && StageEntry.parse({ ...row.get({ plain: true }), page: row.stagePage });
  }

  async keepPage(entryId: string, stagePage: PreparedPage): Promise<void> {
    await this.db.models.Entry.update({ stagePage }, { where: { id: entryId } });
  }

  async listPictures(editionId: string): Promise<string[][]> {
    const rows = await this.db.select(PicturesRow, PICTURES, [editionId]);
    return rows.map(({ files }) => files);
  }

  async findLongestPage(editionId: string): Promise<number> {
    const [row] = await this.db.select(z.object({ bytes: z.int() }), LONGEST_PAGE, [editionId]);
    return row!.bytes;
  }
}
