import { createHash } from "node:crypto";
import sharp from "sharp";
import { pictureKind, pictureProblem } from "#core/model/picture-kind.ts";
import { Invalid } from "../errors.ts";

/** A picture as it is stored: without anything that its file said beside the picture. */
export interface MadePicture {
  type: "image/jpeg";
  width: number;
  height: number;
  content: Buffer;
  sha256: string;
  /** The hash of the file that was sent. */
  sentSha256: string;
}

/** The longer side of a stored picture, pixels: enough for half a printed page. */
export const longestSide = 1600;
/** A picture of more is refused before it is unpacked, pixels. */
const mostPixels = 60_000_000;

const hashOf = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");

/**
 * Makes the picture that is stored from a file that was sent: turned upright, no larger than needed, as JPEG on white. Location, camera,
 * time and every other note in the file stay behind.
 *
 * @throws Invalid where it is no picture of a kind that is taken, or is broken
 */
export async function makePicture(sent: Uint8Array): Promise<MadePicture> {
  const problem = pictureProblem(pictureKind(sent));
  if (problem !== null) throw new Invalid({ picture: problem });
  try {
    const { data, info } = await sharp(sent, { limitInputPixels: mostPixels, failOn: "truncated" })
      .rotate()
      .resize(longestSide, longestSide, { fit: "inside", withoutEnlargement: true })
      .flatten({ background: "#ffffff" })
      .jpeg({ quality: 82, mozjpeg: true })
      .toBuffer({ resolveWithObject: true });
    return {
      type: "image/jpeg",
      ...{ width: info.width, height: info.height, content: data },
      ...{ sha256: hashOf(data), sentSha256: hashOf(sent) },
    };
  } catch {
    throw new Invalid({
      picture: "This picture cannot be read. Take or choose it again, or save a copy as JPEG.",
    });
  }
}
