import { describe, expect, it } from "vitest";
import { securityTxt } from "./security-txt.ts";

describe("security.txt (RFC 9116)", () => {
  const now = Date.parse("2026-12-01T08:00:00Z");

  it("names the contact as an address and a day within a year on which it runs out", () => {
    expect(securityTxt(" safety@larkspurbay.example ", now)?.split("\n")).toEqual([
      "Contact: mailto:safety@larkspurbay.example",
      "Expires: 2027-12-01T08:00:00.000Z",
      "Preferred-Languages: en, es",
    ]);
    expect(securityTxt("https://larkspurbay.example/safety", now)).toContain("Contact: https://");
  });

  it("is not there without a contact, or with one that is no address", () => {
    for (const contact of [undefined, "", "the office", "http://plain.example", "mailto:a@b.example\nX: y"])
      expect(securityTxt(contact, now)).toBeNull();
  });
});
