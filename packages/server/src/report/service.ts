import {
  type Entrant,
  RENDERER_VERSION,
  type ReportLink,
  type Standing,
  type Wall,
  type WhatCounts,
} from "@tourney/core/contract";
import { nameOfCompetitor } from "@tourney/core/conclusions";
import { TourneyError } from "@tourney/core/errors";
import { judgePrompts, renderReport, type ReportPrompt, type ReportStrip } from "@tourney/core/report";
import { countBasis, prepareBasis } from "@tourney/core/standings";
import type { BlobStore } from "@tourney/store";
import { cached } from "../cached.js";
import type { EntrantService } from "../entrants/service.js";
import { inPieces } from "../in-pieces.js";
import { digestCounted } from "../standings/digest-counted.js";
import type { StandingsService } from "../standings/service.js";
import type { SuiteService } from "../suites/service.js";
import type { WallService } from "../wall/service.js";
import type { KeptLink, ReportLinkRepository } from "./link-repository.js";

interface ReportDeps {
  standings: StandingsService;
  suites: SuiteService;
  entrants: EntrantService;
  wall: WallService;
  blobs: BlobStore;
  links: ReportLinkRepository;
  appOrigin: string;
}

/** So many prompts are shown, each by so many pictures of its best and its worst: a report stays a few megabytes. */
const PROMPTS_SHOWN = 3;
const PICTURES_SHOWN = 10;
/** Whoever opens a link again within this time reads the same report: it is work to make. */
const KEPT_MS = 30_000;
const SPARING = 20;

/** Reports on an edition's standings, and the links by which others may read them. */
export function createStandingsReportService(deps: ReportDeps) {
  const { standings, suites, entrants, wall, links, appOrigin } = deps;

  async function make(editionId: string, counts: WhatCounts): Promise<string> {
    const basis = await standings.getBasis(editionId, counts);
    const prepared = prepareBasis(basis);
    const counted = countBasis(prepared, counts);
    const ratings = await inPieces(counted.ratePrompts());
    const found = { standings: counted.standings, ratings, basis };
    const [all, mending, shownWall] = await Promise.all([
      entrants.list(),
      standings.getMending(editionId, counts),
      wall.getWall(editionId, { versions: counts.versions }),
    ]);
    return renderReport({
      ...found,
      mending,
      shown: await showPrompts(found, shownWall),
      conditions: describeConditions(all, counted.standings.rows),
      madeAt: new Date().toISOString(),
      rendererVersion: RENDERER_VERSION,
      inputDigest: digestCounted(prepared, counts),
    });
  }

  async function showPrompts(found: Parameters<typeof judgePrompts>[0], shownWall: Wall): Promise<ReportPrompt[]> {
    const judged = judgePrompts(found)
      .filter(({ worth, rated }) => worth === "tells apart" && rated.length > 1)
      .toSorted((a, b) => spreadOf(b.rated) - spreadOf(a.rated));
    const shown: ReportPrompt[] = [];
    for (const { promptId, title, rated } of judged) {
      if (shown.length === PROMPTS_SHOWN) break;
      const best = await readStrip(shownWall, promptId, rated[0]!.row);
      const worst = await readStrip(shownWall, promptId, rated.at(-1)!.row);
      if (best !== null && worst !== null) shown.push({ title, best, worst });
    }
    return shown;
  }

  /** @returns null where there is no recording with pictures. */
  async function readStrip(shownWall: Wall, promptId: string, row: Standing): Promise<ReportStrip | null> {
    const cell = shownWall.cells.find((one) => one.promptId === promptId && one.versionId === row.version.id);
    const prompt = shownWall.prompts.find(({ id }) => id === promptId);
    if (!cell?.entryId || prompt === undefined) return null;
    const { frames } = await wall.getStrip(cell.entryId, shownWall.edition.id);
    const step = Math.max(1, frames.length / PICTURES_SHOWN);
    const some = Array.from(
      { length: Math.min(frames.length, PICTURES_SHOWN) },
      (_, n) => frames[Math.floor(n * step)]!,
    );
    const pictures: string[] = [];
    for (const { thumbnail } of some) {
      const bytes = await deps.blobs.find(thumbnail.replace(/\.webp$/, ""));
      if (bytes !== null) pictures.push(`data:image/webp;base64,${bytes.toString("base64")}`);
    }
    return pictures.length === 0 ? null : { row, pictures, seconds: prompt.seconds };
  }

  const toLink = ({ token, ...link }: KeptLink): ReportLink => ({
    ...link,
    url: `${appOrigin}/reports/${token}`,
  });

  const readByLink = cached(
    ({ editionId, counts }: Pick<ReportLink, "counts"> & { editionId: string }) => make(editionId, counts),
    {
      keyOf: (link) => JSON.stringify(link),
      keptMs: KEPT_MS,
      sparing: SPARING,
    },
  );

  return {
    /** One HTML page that needs nothing from elsewhere. @throws TourneyError NOT_FOUND when the edition is not there. */
    make,
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async listLinks(editionId: string): Promise<ReportLink[]> {
      await suites.getEdition(editionId);
      return (await links.list(editionId)).map(toLink);
    },
    /** @throws TourneyError NOT_FOUND when the edition is not there. */
    async addLink(editionId: string, counts: WhatCounts): Promise<ReportLink> {
      await suites.getEdition(editionId);
      return toLink(await links.add(editionId, counts));
    },
    /** Withdraws a link, or lets it be read again. @throws TourneyError NOT_FOUND when it is not there. */
    async setLink(linkId: string, isWithdrawn: boolean): Promise<ReportLink> {
      const link = await links.setWithdrawn(linkId, isWithdrawn);
      if (link !== null) return toLink(link);
      throw new TourneyError("NOT_FOUND", {
        message: "There is no such link.",
        reason: "It may belong to another Tourney.",
        remedy: "Reload the page and choose one that is listed.",
      });
    },
    /** The report that a link opens, as it is now. @throws TourneyError NOT_FOUND when it opens nothing. */
    async readByToken(token: string): Promise<string> {
      const link = await links.findOpen(token);
      if (link !== null) return readByLink({ editionId: link.editionId, counts: link.counts });
      throw new TourneyError("NOT_FOUND", {
        message: "This link opens nothing.",
        reason: "It was withdrawn, or it is not whole.",
        remedy: "Ask whoever sent it for another.",
      });
    },
  };
}
export type StandingsReportService = ReturnType<typeof createStandingsReportService>;

const spreadOf = (rated: readonly { rating: number }[]): number => rated[0]!.rating - rated.at(-1)!.rating;

function describeConditions(all: readonly Entrant[], rows: readonly Standing[]) {
  return rows.flatMap((row) => {
    const entrant = all.find(({ id }) => id === row.entrant.id);
    if (entrant === undefined || !row.version.isPresent) return [];
    const settings = Object.entries(entrant.settings).filter(([name]) => name !== "timeLimits");
    const told = settings.map(([name, value]) => `${name} ${JSON.stringify(value)}`);
    return [
      {
        name: nameOfCompetitor(row),
        model: entrant.endpoint.protocol === "by-hand" ? `${entrant.model}, by hand` : entrant.model,
        settings: told.join(", ") || "as the endpoint has them",
      },
    ];
  });
}
