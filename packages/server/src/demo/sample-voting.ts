import { setTimeout as sleep } from "node:timers/promises";
import type { BlobStore } from "@tourney/store";
import sharp from "sharp";
import { type Looks, perceive } from "./looks.js";
import { countAllowed, SAMPLE_BALLOTS, SAMPLE_QUOTA, SAMPLE_VOTERS } from "./demo-progress.js";
import type { DemoRepository } from "./demo-repository.js";
import type { RecordedSide } from "./demo-queries.sql.js";
import { type ReadBout, SampleVoter } from "./sample-voter.js";

const LOOK_EVERY_MS = 1000;
/** A pause between two ballots, which leaves the processor to what records. */
const PAUSE_MS = 20;

/** Reads what a voter sees of a bout from the recordings of its sides, each entry once. */
export function createReadBout({ demo, blobs }: { demo: DemoRepository; blobs: BlobStore }): ReadBout {
  const known = new Map<string, Looks>();
  const look = async ({ entryId, recording }: RecordedSide): Promise<Looks | null> => {
    const seen = known.get(entryId);
    if (seen !== undefined) return seen;
    const poster = recording.frames[recording.poster] ?? recording.frames[0];
    const webp = poster === undefined ? null : await blobs.find(poster.thumbnail.replace(/\.webp$/, ""));
    if (webp === null) return null;
    const { data, info } = await sharp(webp).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const looks = perceive(recording, { width: info.width, height: info.height, channels: 3, data });
    known.set(entryId, looks);
    return looks;
  };
  return async (boutToken) => {
    const [left, right] = await demo.listSides(boutToken);
    if (left === undefined || right === undefined) return null;
    const [leftLooks, rightLooks] = [await look(left), await look(right)];
    return leftLooks && rightLooks && { left: leftLooks, right: rightLooks, kind: left.kind };
  };
}

/** All are there when a third of the rows is: who came for the first rows alone would have nothing left for the last. */
const SEATED_BY = 1 / 3;
const countSeated = (wanted: number, allowed: number): number =>
  Math.ceil(wanted * Math.min(1, allowed / SAMPLE_BALLOTS / SEATED_BY));

/**
 * Lets the made-up voters vote, in step with the rows that are there: a few begin with the first two rows, and more join as rows come. They
 * take turns, one ballot each, so that everybody's ballots are spread over all rows. Resolves when all ballots are cast, or when the
 * voters have nothing left to vote on.
 */
export async function castSampleBallots(
  panelUrl: string,
  { demo, blobs, runId }: { demo: DemoRepository; blobs: BlobStore; runId: string },
): Promise<void> {
  const url = new URL(panelUrl);
  const panel = { origin: url.origin, token: url.pathname.split("/").at(-1)! };
  const readBout = createReadBout({ demo, blobs });
  const { voters: gone, ballots } = (await demo.findSampleRun())!;
  // Those who had begun when a demo was stopped are gone, and their cookies with them: others vote in their stead.
  const wanted = Math.max(SAMPLE_VOTERS - gone, Math.ceil((SAMPLE_BALLOTS - ballots) / SAMPLE_QUOTA));
  let [cast, joined] = [ballots, 0];
  const seats: SampleVoter[] = [];
  while (cast < SAMPLE_BALLOTS) {
    const rows = await demo.listRows(runId);
    const allowed = countAllowed(rows);
    const isAllThere = rows.every(({ toRecord, recorded, open }) => open === 0 && recorded >= toRecord);
    for (; joined < countSeated(wanted, allowed); joined++) seats.push(new SampleVoter(panel, gone + joined, readBout));
    let idle = 0;
    while (cast < allowed && idle < seats.length) {
      const voter = seats.shift()!;
      const hasVoted = await voter.vote();
      if (hasVoted) cast++;
      idle = hasVoted ? 0 : idle + 1;
      // Whoever has nothing to vote on when all is there has seen it all.
      if (voter.cast < SAMPLE_QUOTA && (hasVoted || !isAllThere)) seats.push(voter);
      await sleep(PAUSE_MS);
    }
    if (isAllThere && seats.length === 0) return;
    if (cast < SAMPLE_BALLOTS) await sleep(LOOK_EVERY_MS);
  }
}
