/** What a file holds, by its first bytes. Its name and what the browser calls it are not asked. */
export type PictureKind = "jpeg" | "png" | "webp" | "heic" | "other";

const text = (bytes: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...bytes.subarray(from, to));

/** Brands of pictures in an HEIF file that are coded as video is (ISO/IEC 23008-12), as phones write them. */
const heicBrands = new Set(["heic", "heix", "heim", "heis", "hevc", "hevx", "mif1", "msf1"]);

/**
 * Tells the kind of a picture by its signature: JPEG (ISO/IEC 10918-1, B.1.1.3), PNG (ISO/IEC 15948, 5.2), WebP (RFC 9649, 2.4).
 *
 * @param bytes at least the first 12 of the file
 */
export function pictureKind(bytes: Uint8Array): PictureKind {
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return "jpeg";
  if (text(bytes, 0, 8) === "\x89PNG\r\n\x1a\n") return "png";
  if (text(bytes, 0, 4) === "RIFF" && text(bytes, 8, 12) === "WEBP") return "webp";
  return text(bytes, 4, 8) === "ftyp" && heicBrands.has(text(bytes, 8, 12)) ? "heic" : "other";
}

/** Why a file is not taken, and what to do; null where it is a picture of a kind that is taken. */
export function pictureProblem(kind: PictureKind): string | null {
  if (kind === "heic")
    return "This picture is in HEIC format, which many browsers cannot show. On an iPhone or iPad choose Settings, Camera, Formats, Most Compatible, and take it again; or save a copy as JPEG.";
  return kind === "other" ? "This file is not a picture. Choose a JPEG, PNG or WebP file." : null;
}
