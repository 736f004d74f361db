import sharp from "sharp";
import { expect, it } from "vitest";
import { pictureKind, pictureProblem } from "./picture-kind.ts";

const drawn = () => sharp({ create: { width: 3, height: 2, channels: 3, background: "#123456" } });

it("tells pictures by their first bytes, as a library writes them", async () => {
  expect(pictureKind(await drawn().jpeg().toBuffer())).toBe("jpeg");
  expect(pictureKind(await drawn().png().toBuffer())).toBe("png");
  expect(pictureKind(await drawn().webp().toBuffer())).toBe("webp");
  // AVIF is in the same container as HEIC and is none of the kinds that are taken.
  expect(pictureKind(await drawn().avif().toBuffer())).toBe("other");
  const heic = Uint8Array.from([0, 0, 0, 24, ...Buffer.from("ftypheix")]);
  expect(pictureKind(heic)).toBe("heic");
  expect(pictureKind(Uint8Array.from([0xff, 0xd8]))).toBe("other");
  expect(pictureKind(new Uint8Array())).toBe("other");
});

it("says what to do with those that are not taken", () => {
  expect(pictureProblem("heic")).toContain("save a copy as JPEG");
  expect(pictureProblem("other")).toContain("JPEG, PNG or WebP");
  expect(pictureProblem("webp")).toBeNull();
});
