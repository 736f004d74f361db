import type { IncomingMessage } from "node:http";
import { describe, expect, it } from "vitest";
import { bodyLimit, clientAddress, isSecure, refusal } from "./guard.ts";

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
