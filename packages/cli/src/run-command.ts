import { spawn } from "node:child_process";

export interface CommandResult {
  code: number;
  stdout: string;
  stderr: string;
}

export interface CommandOptions {
  env?: NodeJS.ProcessEnv;
  uid?: number;
  gid?: number;
  cwd?: string;
}

/** Runs a command to its end and keeps what it printed. A command that is missing ends with code 127. */
export function runCommand(
  command: string,
  args: readonly string[],
  options: CommandOptions = {},
): Promise<CommandResult> {
  return new Promise((resolve) => {
    const child = spawn(command, [...args], { stdio: ["ignore", "pipe", "pipe"], ...options });
    let stdout = "";
    let stderr = "";
    child.stdout.on("data", (chunk: Buffer) => (stdout += chunk.toString()));
    child.stderr.on("data", (chunk: Buffer) => (stderr += chunk.toString()));
    child.on("error", (error) => resolve({ code: 127, stdout, stderr: stderr + error.message }));
    child.on("close", (code) => resolve({ code: code ?? 1, stdout, stderr }));
  });
}

/** Runs a program of ours with this terminal, and ends with its code. */
export function passThrough(
  program: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv = process.env,
): Promise<number> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [program, ...args], { stdio: "inherit", env });
    const forward = (signal: NodeJS.Signals) => child.kill(signal);
    process.on("SIGTERM", forward);
    // The terminal sends Ctrl-C to both; this one only has to wait.
    process.on("SIGINT", () => undefined);
    child.on("close", (code) => resolve(code ?? 1));
  });
}
