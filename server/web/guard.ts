import type { IncomingMessage } from "node:http";

export const bodyLimit = 256 * 1024;

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

export interface Refusal {
  status: number;
  text: string;
}

/** Refuses requests that no page of ours sends, before their body is read. */
export function refusal(request: IncomingMessage, secure: boolean): Refusal | null {
  if (request.method === "GET" || request.method === "HEAD") return null;
  if (!isSameOrigin(request, secure))
    return { status: 403, text: "This request did not come from a page of this site." };
  const length = request.headers["content-length"];
  if (length === undefined) return { status: 411, text: "The length of the request is missing." };
  if (Number(length) > bodyLimit) return { status: 413, text: "The request is too large." };
  return null;
}
