import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { createHash, X509Certificate } from "node:crypto";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer, connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as sleep } from "node:timers/promises";

const ROOT = join(import.meta.dirname, "../../..");

/** Debian's nginx: the one that is installed, else its program out of its package, of which nothing is set up or started. */
function findNginx(): string {
  if (existsSync("/usr/sbin/nginx")) return "/usr/sbin/nginx";
  const folder = join(ROOT, ".tourney/nginx");
  const program = join(folder, "usr/sbin/nginx");
  if (existsSync(program)) return program;
  mkdirSync(folder, { recursive: true });
  const download = () => execFileSync("apt-get", ["download", "-q", "nginx"], { cwd: folder, stdio: "pipe" });
  try {
    download();
  } catch {
    // The lists of what there is may never have been read on this machine.
    execFileSync("apt-get", ["update", "-q"], { stdio: "pipe" });
    download();
  }
  const [deb] = readdirSync(folder).filter((name) => name.endsWith(".deb"));
  execFileSync("dpkg", ["-x", join(folder, deb!), folder]);
  return program;
}

export function findFreePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer();
    server.listen(0, "127.0.0.1", () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });
}

/** The configuration that the documentation gives. */
export function readDocumentedConfiguration(): string {
  const text = readFileSync(join(ROOT, "docs/elsewhere.md"), "utf8");
  return /```nginx\n([\s\S]*?)```/.exec(text)![1]!;
}

export interface Proxy {
  /** What a browser is told, so that it trusts this certificate and no other. */
  fingerprint: string;
  certificate: string;
  stop: () => Promise<void>;
}

/** nginx as the documentation sets it up, but for the ports and where the certificate lies. */
export async function startProxy(ports: { public: number; app: number; exhibits: number }): Promise<Proxy> {
  const folder = mkdtempSync(join(tmpdir(), "tourney-proxy-"));
  const [key, certificate] = [join(folder, "key.pem"), join(folder, "certificate.pem")];
  execFileSync(
    "openssl",
    ["req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=tourney.example"].concat([
      "-addext",
      "subjectAltName=DNS:tourney.example,DNS:*.stages.tourney.example",
      "-keyout",
      key,
      "-out",
      certificate,
    ]),
    { stdio: "ignore" },
  );
  const servers = readDocumentedConfiguration()
    .replaceAll("listen 443 ssl", `listen 127.0.0.1:${ports.public} ssl`)
    .replaceAll("127.0.0.1:4600", `127.0.0.1:${ports.app}`)
    .replaceAll("127.0.0.1:4601", `127.0.0.1:${ports.exhibits}`)
    .replaceAll("/etc/ssl/tourney/", `${folder}/`);
  const places = ["client_body", "proxy", "fastcgi", "uwsgi", "scgi"].map(
    (name) => `${name}_temp_path ${folder}/${name};`,
  );
  const configuration = join(folder, "nginx.conf");
  writeFileSync(
    configuration,
    `pid ${folder}/nginx.pid; error_log stderr; daemon off; worker_processes 1;
     events {} http { access_log off; ${places.join(" ")} ${servers} }`,
  );
  const child = spawn(findNginx(), ["-p", folder, "-c", configuration], { stdio: ["ignore", "ignore", "pipe"] });
  let said = "";
  child.stderr.on("data", (chunk: Buffer) => (said += chunk.toString()));
  await untilListening(ports.public, child, () => said);
  const { publicKey } = new X509Certificate(readFileSync(certificate));
  return {
    certificate,
    fingerprint: createHash("sha256")
      .update(publicKey.export({ type: "spki", format: "der" }))
      .digest("base64"),
    async stop() {
      const ended = new Promise((resolve) => child.once("exit", resolve));
      if (child.exitCode === null && child.kill("SIGTERM")) await ended;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

async function untilListening(port: number, child: ChildProcess, said: () => string): Promise<void> {
  for (let i = 0; i < 100 && child.exitCode === null; i++) {
    const isThere = await new Promise<boolean>((resolve) => {
      const socket = connect(port, "127.0.0.1", () => socket.end(() => resolve(true)));
      socket.once("error", () => resolve(false));
    });
    if (isThere) return;
    await sleep(50);
  }
  throw new Error(`nginx does not listen: ${said()}`);
}
