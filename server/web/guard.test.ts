import type { IncomingMessage } from "node:http";
import { describe, expect, it } from "vitest";
import {
  bodyLimit,
  clientAddress,
  isSecure,
  knownHosts,
  malformed,
  pictureBodyLimit,
  refusal,
} from "./guard.ts";

function request(headers: Record<string, string>, method = "POST"): IncomingMessage {
  return {
    method,
    headers: { host: "school.example", "content-length": "10", ...headers },
    socket: { remoteAddress: "127.0.0.1" },
  } as unknown as IncomingMessage;
}
const statusOf = (headers: Record<string, string>, secure = true) =>
  refusal(request(headers), secure)?.status ?? null;

describe("a mutation", () => {
  it("passes with our own origin, or with the browser's word that it is ours", () => {
    expect(statusOf({ origin: "https://school.example" })).toBeNull();
    expect(statusOf({ "sec-fetch-site": "same-origin" })).toBeNull();
    expect(statusOf({ "sec-fetch-site": "same-origin", origin: "null" })).toBeNull();
    expect(refusal(request({}, "GET"), true)).toBeNull();
  });

  it.each([
    {},
    { origin: "null" },
    { origin: "http://school.example" },
    { origin: "https://school.example:8443" },
    { origin: "https://evil.example" },
    { "sec-fetch-site": "same-site", origin: "https://school.example" },
    { "sec-fetch-site": "none" },
  ])("is refused with %o", (headers) => {
    expect(statusOf(headers as Record<string, string>)).toBe(403);
  });

  it("is refused without a length, and when it is too long", () => {
    const origin = "https://school.example";
    const headers = request({ origin }).headers;
    delete headers["content-length"];
    expect(refusal({ ...request({ origin }), headers } as IncomingMessage, true)?.status).toBe(411);
    expect(statusOf({ origin, "content-length": String(bodyLimit + 1) })).toBe(413);
    const toKeep = (length: number) => {
      const sent = request({ origin, "content-length": String(length) });
      return refusal({ ...sent, url: "/recording/keep" } as IncomingMessage, true)?.status;
    };
    expect(toKeep(bodyLimit + 1)).toBeUndefined();
    expect(toKeep(pictureBodyLimit + 1)).toBe(413);
  });
});

describe("behind a proxy", () => {
  const forwarded = { "x-forwarded-for": "6.6.6.6, 203.0.113.7", "x-forwarded-proto": "https" };
  it("believes as many hops as are ours, and none by default", () => {
    expect(clientAddress(request(forwarded), 0)).toBe("127.0.0.1");
    expect(clientAddress(request(forwarded), 1)).toBe("203.0.113.7");
    expect(clientAddress(request({}), 1)).toBe("127.0.0.1");
    expect([
      isSecure(request(forwarded), 0),
      isSecure(request(forwarded), 1),
      isSecure(request({}), 1),
    ]).toEqual([false, true, false]);
  });
});

describe("a request that no browser sends", () => {
  const hosts = knownHosts("margin.example.org, Second.example.org", "127.0.0.1");
  const statusOf = (url: string, host = "margin.example.org", method = "GET") =>
    malformed({ ...request({ host }, method), url } as IncomingMessage, hosts)?.status ?? null;

  it("is told from one that does, by its host", () => {
    for (const host of ["margin.example.org", "MARGIN.example.org:4717", "second.example.org", "localhost:1"])
      expect([host, statusOf("/", host)]).toEqual([host, null]);
    for (const host of ["evil.example", "margin.example.org.evil.example", "10.0.0.1"])
      expect([host, statusOf("/", host)]).toEqual([host, 421]);
    for (const host of [
      "",
      "a b",
      "margin.example.org:99999",
      "x@margin.example.org",
      "margin.example.org/x",
      "[::1",
    ])
      expect([host, statusOf("/", host)]).toEqual([host, 400]);
  });

  it("listens to its machine's own names where it listens everywhere", () => {
    expect(knownHosts(undefined, "0.0.0.0").size).toBeGreaterThan(knownHosts(undefined, "127.0.0.1").size);
    expect(knownHosts(undefined, "192.0.2.7").has("192.0.2.7")).toBe(true);
    expect(knownHosts(undefined, "2001:db8::7").has("[2001:db8::7]")).toBe(true);
  });

  it("is told by its address and its method", () => {
    for (const url of ["/", "/students/1?find=a%0Ab&x=%25", "/caf%C3%A9", "/a?to=//b"])
      expect([url, statusOf(url)]).toEqual([url, null]);
    for (const url of [
      "//",
      "/a//b",
      "/a%2F%2Fb",
      "/%00",
      "/a%0d%0ab",
      "/%",
      "/%ff",
      "/\\a",
      "/%5ca",
      "/?a=%00",
      "*",
    ])
      expect([url, statusOf(url)]).toEqual([url, 400]);
    for (const method of ["PUT", "DELETE", "OPTIONS", "TRACE", "PROPFIND"])
      expect([method, statusOf("/", undefined, method)]).toEqual([method, 405]);
  });
});
