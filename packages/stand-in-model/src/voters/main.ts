import { Command } from "commander";
import { castSampleBallots } from "./vote.js";

interface Flags {
  voters: string;
  first: string;
  ballots: string;
  seed: string;
}

async function vote(panelUrl: string, flags: Flags): Promise<void> {
  const cast = await castSampleBallots({
    panelUrl,
    voters: Number(flags.voters),
    first: Number(flags.first),
    ballots: Number(flags.ballots),
    seed: Number(flags.seed),
    onProgress: (count) => {
      process.send?.({ type: "progress", count });
    },
  });
  console.log(`${cast} sample ballots cast.`);
}

new Command("tourney sample-voters")
  .description("Let made-up voters vote on a panel. What they cast is labelled as sample data.")
  .argument("<panel-url>", "the panel's invitation link")
  .option("--voters <n>", "how many", "7")
  .option("--first <n>", "the number of the first, which decides its taste", "0")
  .option("--ballots <n>", "of each, at most", "20")
  .option("--seed <n>", "of their taste and luck", "1")
  .action(vote)
  .parseAsync()
  .catch((error: unknown) => {
    console.error(error instanceof Error ? error.message : error);
    process.exitCode = 1;
  });
