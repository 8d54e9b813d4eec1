import { lookup } from "node:dns";
import { BlockList, isIP, type LookupFunction } from "node:net";
import { networkInterfaces } from "node:os";
import { Agent, fetch as fetchBy, type RequestInit as FetchInit } from "undici";

/** An address of this machine or of the network right beside it, which nobody allowed. */
export class AddressRefused extends Error {
  override readonly name = "AddressRefused";
}

/** Asks an endpoint, as `fetch` does, but never goes where its address does not say, nor to this machine unless that is allowed. */
export type EndpointFetch = typeof fetch;

const NEAR = new BlockList();
for (const [network, prefix] of [
  ["0.0.0.0", 8],
  ["127.0.0.0", 8],
  // Link-local: where clouds answer whoever asks with the machine's own credentials.
  ["169.254.0.0", 16],
] as const)
  NEAR.addSubnet(network, prefix, "ipv4");
for (const [network, prefix] of [
  ["::", 128],
  ["::1", 128],
  ["fe80::", 10],
] as const)
  NEAR.addSubnet(network, prefix, "ipv6");

/** Whether an IP address is this machine's own, or link-local. */
export function isNear(address: string): boolean {
  const plain = address.split("%", 1)[0]!;
  const family = isIP(plain) === 6 ? "ipv6" : "ipv4";
  if (NEAR.check(plain, family)) return true;
  const own = new BlockList();
  for (const { address: one, family: its } of Object.values(networkInterfaces()).flatMap((all) => all ?? []))
    own.addAddress(one.split("%", 1)[0]!, its === "IPv6" ? "ipv6" : "ipv4");
  return own.check(plain, family);
}

const refuse = (host: string, address: string): AddressRefused =>
  new AddressRefused(
    `${host} is ${address === host ? "an address" : `${address}, an address`} of this machine or link-local.`,
  );

/** Names are looked at when they are resolved for the very connection: one that means another host a moment later does not get past. */
const lookUpFar: LookupFunction = (hostname, options, callback) => {
  lookup(hostname, { ...options, all: true }, (error, addresses) => {
    const near = error === null ? addresses.find(({ address }) => isNear(address)) : undefined;
    if (error !== null || near !== undefined) callback(error ?? refuse(hostname, near!.address), "", 0);
    else if (options.all === true) callback(null, addresses);
    else callback(null, addresses[0]!.address, addresses[0]!.family);
  });
};

/**
 * @param allowed endpoints on this machine that the operator allows: `host:port`, separated by commas, or `all`
 */
export function createEndpointFetch(allowed: string): EndpointFetch {
  const list = allowed.split(",").map((one) => one.trim().toLowerCase());
  const anywhere = new Agent();
  const far = new Agent({ connect: { lookup: lookUpFar } });
  return (async (input: string | URL, init?: RequestInit) => {
    const { hostname, host, protocol, port } = new URL(String(input));
    const isAllowed =
      list.includes("all") ||
      list.includes(host) ||
      (port === "" && list.includes(`${host}:${protocol === "https:" ? 443 : 80}`));
    const literal = hostname.replace(/^\[(.*)\]$/, "$1");
    if (!isAllowed && isIP(literal) !== 0 && isNear(literal)) throw refuse(literal, literal);
    // A service that leads elsewhere, as to a page to sign in, is not followed: what is sent is for this one alone.
    return fetchBy(input, {
      ...(init as unknown as FetchInit),
      dispatcher: isAllowed ? anywhere : far,
      redirect: "manual",
    });
  }) as unknown as EndpointFetch;
}
