import type { IncomingMessage } from "node:http";
import { hostname, networkInterfaces } from "node:os";

export const bodyLimit = 256 * 1024;
/** Where devices send what they recorded, pictures among it. */
const pictureAddress = "/recording/keep";
export const pictureBodyLimit = 1_250_000;

/** Who is at the other end, behind `hops` proxies that each append to X-Forwarded-For; without a proxy, the socket says. */
export function clientAddress(request: IncomingMessage, hops: number): string {
  const socket = request.socket.remoteAddress ?? "";
  if (hops === 0) return socket;
  const forwarded = String(request.headers["x-forwarded-for"] ?? "")
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);
  return forwarded.at(-hops) ?? socket;
}

/**
 * Did the request reach the last proxy by TLS?
 *
 * @param hops how many proxies stand before this server; 0 trusts no header
 */
export function isSecure(request: IncomingMessage, hops: number): boolean {
  return (
    hops > 0 &&
    String(request.headers["x-forwarded-proto"] ?? "")
      .split(",")
      .at(-1)
      ?.trim() === "https"
  );
}

/**
 * Did our own page send this request? A mutation needs an `Origin` that is ours or `Sec-Fetch-Site: same-origin`; a request
 * with neither is refused, as is one where either says otherwise.
 */
export function isSameOrigin(request: IncomingMessage, secure: boolean): boolean {
  const site = request.headers["sec-fetch-site"];
  if (site !== undefined && site !== "same-origin") return false;
  const { origin, host } = request.headers;
  if (origin === undefined || origin === "null") return site === "same-origin";
  return origin === `${secure ? "https" : "http"}://${host}`;
}

const loopback = ["localhost", "127.0.0.1", "[::1]"];
const everywhere = ["0.0.0.0", "::"];
/** An address as it stands in a Host header: IPv6 in brackets. */
const asHost = (address: string) => (address.includes(":") ? `[${address}]` : address);

/**
 * The names under which this server is asked: those the operator names, this machine's own, and nothing else. A name that somebody
 * else points here (DNS rebinding) is not one of them.
 *
 * @param named the operator's, separated by commas
 * @param listening the address that is listened on
 */
export function knownHosts(named: string | undefined, listening: string): ReadonlySet<string> {
  const asked = (named ?? "").split(",").map((one) => one.trim().toLowerCase());
  const addresses = Object.values(networkInterfaces()).flatMap((all) => all ?? []);
  const own = everywhere.includes(listening)
    ? [hostname().toLowerCase(), ...addresses.map(({ address }) => asHost(address))]
    : [asHost(listening)];
  return new Set([...loopback, ...own, ...asked].filter(Boolean));
}

export interface Refusal {
  status: number;
  text: string;
}

const methods = ["GET", "HEAD", "POST"];

/** Can this address be read: a path that decodes, and neither a control character nor a NUL in what it asks? */
function isReadable(target: string): boolean {
  const [path = "", ...query] = target.split("?");
  try {
    const decoded = decodeURIComponent(path);
    return decoded.startsWith("/") && !/[\p{Cc}\\]|\/\//u.test(decoded) && !query.join("?").includes("%00");
  } catch {
    return false;
  }
}

/** Refuses what no browser sends: a host that is none or not ours, an address that cannot be read, a method without a use here. */
export function malformed(request: IncomingMessage, hosts: ReadonlySet<string>): Refusal | null {
  const host = /^(\[[\da-f:.]+\]|[\w.-]+)(?::\d{1,5})?$/i.exec(request.headers.host ?? "")?.[1];
  if (!host || !URL.canParse(`http://${request.headers.host}`))
    return { status: 400, text: "The request names no host that could be one." };
  if (!hosts.has(host.toLowerCase()))
    return { status: 421, text: "This server is not known by that name. Its operator names it in HOSTS." };
  if (!methods.includes(request.method ?? ""))
    return { status: 405, text: "This server is asked with GET, HEAD and POST." };
  if (!isReadable(request.url ?? ""))
    return { status: 400, text: "This address cannot be read. Please check it, or start from the caseload." };
  return null;
}

/** Refuses requests that no page of ours sends, before their body is read. */
export function refusal(request: IncomingMessage, secure: boolean): Refusal | null {
  if (request.method === "GET" || request.method === "HEAD") return null;
  if (!isSameOrigin(request, secure))
    return { status: 403, text: "This request did not come from a page of this site." };
  const length = request.headers["content-length"];
  if (length === undefined) return { status: 411, text: "The length of the request is missing." };
  const limit = request.url === pictureAddress ? pictureBodyLimit : bodyLimit;
  if (Number(length) > limit) return { status: 413, text: "The request is too large." };
  return null;
}
