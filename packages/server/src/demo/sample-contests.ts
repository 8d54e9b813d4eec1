import type { Contest, Edition } from "@tourney/core/contract";
import type { Services } from "../services.js";
import { SAMPLE_VOTERS } from "./demo-progress.js";
import { SampleVoter } from "./sample-voter.js";
import { createReadBout } from "./sample-voting.js";

/** The contests beside the ratings that the demo has a panel for. */
const PANELS: { contest: Contest; title: string; message: string; quota: number }[] = [
  { contest: "hints", title: "Night shift", message: "Two pages for one task. Which would you keep?", quota: 6 },
  { contest: "rounds", title: "Workshop", message: "Two pages for one task. Which works better?", quota: 2 },
];
const VOTERS = 10;

/** Lets made-up voters vote in the contests beside the ratings. A panel that has its voters already stays as it is. */
export async function castContestBallots({ panels, demo, blobs }: Services, edition: Edition): Promise<void> {
  const present = await panels.list(edition.id);
  const readBout = createReadBout({ demo, blobs });
  for (const [index, { contest, title, message, quota }] of PANELS.entries()) {
    const panel =
      present.find((other) => other.contest === contest && other.sample) ??
      (await panels.add({ editionId: edition.id, contest, title, message, quota }, true));
    const { origin, pathname } = new URL(panel.url);
    const first = SAMPLE_VOTERS + index * VOTERS;
    for (let seat = panel.voters.length; seat < VOTERS; seat++) {
      const voter = new SampleVoter({ origin, token: pathname.split("/").at(-1)! }, first + seat, readBout);
      while (await voter.vote());
    }
  }
}
