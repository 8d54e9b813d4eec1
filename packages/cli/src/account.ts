import { chownSync, existsSync, lstatSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { PROGRAMS, ROOT } from "./paths.js";
import { runCommand } from "./run-command.js";

/** A user and group of the system, by number. */
export interface Account {
  uid: number;
  gid: number;
}

/** The account of the programs that people and endpoints reach, where root starts Tourney. */
export const ACCOUNT_NAME = "tourney";

/** An account of the system, by the text of its /etc/passwd. */
export function readAccount(passwd: string, name: string): Account | null {
  const line = passwd.split("\n").find((entry) => entry.startsWith(`${name}:`));
  const [, , uid, gid] = line?.split(":") ?? [];
  return uid === undefined || gid === undefined ? null : { uid: Number(uid), gid: Number(gid) };
}

export const findAccount = (name: string): Account | null => readAccount(readFileSync("/etc/passwd", "utf8"), name);

/** A command's prefix that runs it as an account, with no group but the account's own. */
export const asAccount = ({ uid, gid }: Account): string[] => [
  "setpriv",
  `--reuid=${uid}`,
  `--regid=${gid}`,
  "--clear-groups",
  "--",
];

/** Who the server runs as: an account, or else whoever starts it, and why. */
export type ChosenAccount = { account: Account; reason: null } | { account: null; reason: string | null };

/**
 * Where root starts Tourney: the account for its server, made when there is none yet, if it can read the programs. What starts browsers
 * stays root's: only root can take the network and the rights from a browser on every kernel.
 */
export async function chooseAccount(): Promise<ChosenAccount> {
  if (process.getuid?.() !== 0) return { account: null, reason: null };
  if (findAccount(ACCOUNT_NAME) === null) {
    const home = ["--home-dir", "/nonexistent", "--no-create-home", "--shell", "/usr/sbin/nologin"];
    await runCommand("useradd", ["--system", "--user-group", ...home, ACCOUNT_NAME]);
  }
  const account = findAccount(ACCOUNT_NAME);
  if (account === null) return { account, reason: `the account ${ACCOUNT_NAME} could not be made` };
  if (account.uid === 0) return { account: null, reason: `the account ${ACCOUNT_NAME} is root's own` };
  const [command, ...args] = [...asAccount(account), process.execPath, "-e", `fs.accessSync("${PROGRAMS.server}")`];
  const { code } = await runCommand(command, args, { cwd: "/" });
  if (code === 0) return { account, reason: null };
  return { account: null, reason: `the account ${ACCOUNT_NAME} cannot read ${ROOT}` };
}

/** Gives a folder and all in it to an account. Links are not followed. */
export function giveFolder(folder: string, { uid, gid }: Account): void {
  if (!existsSync(folder)) return;
  const found = lstatSync(folder);
  // What it owns was given before, or is what root wrote for it since.
  if (found.uid === uid) return;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) giveFolder(path, { uid, gid });
    else if (entry.isFile()) chownSync(path, uid, gid);
  }
  // Last, so that what is broken off halfway is begun once more.
  chownSync(folder, uid, gid);
}
