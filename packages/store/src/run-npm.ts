import { spawn } from "node:child_process";

/** What npm takes from our environment: where the registry is and how it is reached. Nothing of ours is handed on. */
const HANDED_ON = /^(PATH|HOME|LANG|TMPDIR|NODE_EXTRA_CA_CERTS|npm_config_.*|(HTTPS?|NO)_PROXY)$/i;
const LONGEST_OUTPUT = 4_000_000;

/**
 * Runs npm in a folder.
 *
 * @param limitMs after which it is ended.
 * @returns what it printed; code 127 when it is missing, and null when it was ended.
 */
export function runNpm(
  args: readonly string[],
  { cwd, limitMs }: { cwd: string; limitMs: number },
): Promise<{ code: number | null; stdout: string; stderr: string }> {
  return new Promise((resolve) => {
    const env = Object.fromEntries(Object.entries(process.env).filter(([name]) => HANDED_ON.test(name)));
    const child = spawn("npm", [...args], { cwd, env, stdio: ["ignore", "pipe", "pipe"], detached: true });
    const printed = { stdout: "", stderr: "" };
    for (const name of ["stdout", "stderr"] as const)
      child[name].on("data", (chunk: Buffer) => {
        if (printed[name].length < LONGEST_OUTPUT) printed[name] += chunk.toString();
      });
    const limit = setTimeout(() => {
      // npm starts others: all of them are ended.
      if (child.pid !== undefined) process.kill(-child.pid, "SIGKILL");
    }, limitMs);
    child.on("error", (error) => {
      clearTimeout(limit);
      resolve({ code: 127, ...printed, stderr: error.message });
    });
    child.on("close", (code) => {
      clearTimeout(limit);
      resolve({ code, ...printed });
    });
  });
}
