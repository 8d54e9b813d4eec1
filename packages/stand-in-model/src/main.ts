import { createServer } from "node:http";
import { readFileSync } from "node:fs";
import { Command } from "commander";
import { parse } from "yaml";
import { ZodError } from "zod";
import { createStandIn } from "./app.js";
import { applyScenario, MODELS, type StandInModel } from "./models.js";

interface Flags {
  port: string;
  seed: string;
  speed: string;
  key?: string;
  faults: boolean;
  scenario?: string;
}

/** The models as a scenario file changes them. */
function readScenario(path: string): StandInModel[] {
  try {
    return applyScenario(parse(readFileSync(path, "utf8")));
  } catch (error) {
    const why =
      error instanceof ZodError
        ? error.issues.map((issue) => `${issue.path.join(".")}: ${issue.message}`).join("; ")
        : String(error);
    console.error(`The scenario file ${path} cannot be used: ${why}`);
    process.exit(1);
  }
}

function serve(flags: Flags): void {
  const options = {
    seed: Number(flags.seed),
    speed: Number(flags.speed),
    key: flags.key ?? null,
    faults: flags.faults,
    models: flags.scenario === undefined ? MODELS : readScenario(flags.scenario),
  };
  if (!Number.isInteger(options.seed) || !(options.speed > 0)) {
    console.error("The seed must be a whole number and the speed a number above 0.");
    process.exitCode = 1;
    return;
  }
  const server = createServer(createStandIn(options));
  server.on("error", (error: NodeJS.ErrnoException) => {
    console.error(
      `Port ${flags.port} cannot be listened on (${error.code ?? error.message}). Give another with --port.`,
    );
    process.exit(1);
  });
  server.listen(Number(flags.port), "127.0.0.1", () => {
    const address = server.address();
    const port = typeof address === "object" && address ? address.port : flags.port;
    console.log(
      `Stand-in endpoint at http://localhost:${port}/v1 (seed ${options.seed}, ${options.speed}× pace): ${options.models.map(({ id }) => id).join(", ")}`,
    );
    process.send?.({ type: "ready", port });
  });
  const stop = () => {
    server.closeAllConnections();
    server.close(() => process.exit(0));
  };
  for (const signal of ["SIGINT", "SIGTERM", "disconnect"] as const) process.once(signal, stop);
}

new Command("tourney stand-in")
  .description("Serve the stand-in endpoint: made-up models that speak the chat-completions and the messages protocol.")
  .option("--port <n>", "0 for any free one", "9105")
  .option("--seed <n>", "which pages the models write", "1")
  .option("--speed <n>", "times faster than the models' own pace", "1")
  .option("--key <text>", "require this bearer token")
  .option("--scenario <file>", "a YAML file that changes the models: pace, talent, habits, quirks")
  .option("--no-faults", "without the models' quirks: never busy, never refusing, never stalling")
  .action(serve)
  .parse();
