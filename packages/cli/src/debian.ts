import { existsSync, mkdirSync, readdirSync, writeFileSync } from "node:fs";
import { TourneyError } from "@tourney/core/errors";
import { runCommand } from "./run-command.js";
import { step } from "./step.js";

interface Requirement {
  package: string;
  isThere: () => boolean;
}

/** The folder with PostgreSQL's programs, of a version or else of the newest one, or null. */
export function findPostgresBin(version: string | null = null): string | null {
  const base = "/usr/lib/postgresql";
  if (!existsSync(base)) return null;
  const versions = version === null ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [version];
  const found = versions.find(
    (version) => existsSync(`${base}/${version}/bin/postgres`) && existsSync(`${base}/${version}/bin/initdb`),
  );
  return found === undefined ? null : `${base}/${found}/bin`;
}

const file = (name: string, path: string): Requirement => ({ package: name, isThere: () => existsSync(path) });

/** Checked by files: a few milliseconds when all is there. */
const REQUIREMENTS: readonly Requirement[] = [
  { package: "postgresql", isThere: () => findPostgresBin() !== null },
  file("chromium", "/usr/bin/chromium"),
  file("chromium-headless-shell", "/usr/lib/chromium/chromium-headless-shell"),
  file("chromium-sandbox", "/usr/lib/chromium/chrome-sandbox"),
  file("fonts-liberation", "/usr/share/fonts/truetype/liberation"),
  file("fonts-noto-core", "/usr/share/fonts/truetype/noto/NotoSans-Regular.ttf"),
  file("fonts-noto-color-emoji", "/usr/share/fonts/truetype/noto/NotoColorEmoji.ttf"),
];

/** Tells Debian's postgresql package not to start a cluster of its own, before it is installed. */
const NO_MAIN_CLUSTER = "/etc/postgresql-common/createcluster.conf";

function cannotInstall(missing: readonly string[], reason: string): TourneyError {
  return new TourneyError("SETUP_FAILED", {
    message: `These Debian packages are missing: ${missing.join(", ")}.`,
    reason,
    remedy: `Run \`apt-get install ${missing.join(" ")}\` as root, then start Tourney again.`,
  });
}

/**
 * Installs the Debian packages that are missing, as root or through sudo.
 *
 * @param withPostgres false where a server that is already there is used
 * @throws TourneyError SETUP_FAILED
 */
export async function installDebianPackages({ withPostgres = true } = {}): Promise<void> {
  const missing = REQUIREMENTS.filter(
    (wanted) => !wanted.isThere() && (withPostgres || wanted.package !== "postgresql"),
  ).map((wanted) => wanted.package);
  if (missing.length === 0) return;
  const isRoot = process.getuid?.() === 0;
  if (!existsSync("/usr/bin/apt-get"))
    throw cannotInstall(missing, "This machine has no apt-get to install them with.");
  if (!isRoot && (await runCommand("sudo", ["-n", "true"])).code !== 0) {
    throw cannotInstall(missing, "Installing needs root, and sudo asks for a password here.");
  }
  const apt = async (args: readonly string[]) => {
    const command = [
      "env",
      "DEBIAN_FRONTEND=noninteractive",
      "apt-get",
      "-o",
      "Dpkg::Options::=--force-confold",
      ...args,
    ];
    const [program, ...rest] = isRoot ? command : ["sudo", "-n", ...command];
    const { code, stderr } = await runCommand(program!, rest);
    if (code !== 0) throw cannotInstall(missing, `apt-get failed: ${stderr.trim().split("\n").slice(-3).join(" ")}`);
  };
  if (isRoot && missing.includes("postgresql") && !existsSync(NO_MAIN_CLUSTER)) {
    mkdirSync("/etc/postgresql-common", { recursive: true });
    writeFileSync(NO_MAIN_CLUSTER, "create_main_cluster = false\n");
  }
  await step("Reading Debian's package lists", () => apt(["update", "-q"]));
  for (const name of missing) {
    await step(`Installing ${name}`, () => apt(["install", "-q", "-y", "--no-install-recommends", name]));
  }
}
