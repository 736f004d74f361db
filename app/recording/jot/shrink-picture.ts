import { pictureKind, pictureProblem } from "#core/model/picture-kind.ts";

/** The longer side of a picture that leaves the device, pixels. */
const longestSide = 1280;
/** As large as a picture may be in Base64, characters: with the rest of its item it is below the server's limit. */
const mostText = 1_100_000;
const qualities = [0.82, 0.7, 0.55, 0.4];

function base64Of(blob: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onerror = () => reject(reader.error ?? new Error("the picture was not read"));
    reader.onload = () =>
      resolve(typeof reader.result === "string" ? (reader.result.split(",")[1] ?? "") : "");
    reader.readAsDataURL(blob);
  });
}

/**
 * Makes a picture that was taken or chosen small enough to be sent: drawn anew, upright, as JPEG on white. What the file said beside the
 * picture (where, when, with what camera) stays behind.
 *
 * @returns its bytes in Base64, or why it is not taken and what to do
 */
export async function shrinkPicture(
  file: Blob,
): Promise<{ ok: true; data: string } | { ok: false; problem: string }> {
  const problem = pictureProblem(pictureKind(new Uint8Array(await file.slice(0, 12).arrayBuffer())));
  if (problem !== null) return { ok: false, problem };
  try {
    const bitmap = await createImageBitmap(file, { imageOrientation: "from-image" });
    const scale = Math.min(1, longestSide / Math.max(bitmap.width, bitmap.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round(bitmap.width * scale));
    canvas.height = Math.max(1, Math.round(bitmap.height * scale));
    const pen = canvas.getContext("2d");
    if (!pen) throw new Error("this browser draws no pictures");
    pen.fillStyle = "#ffffff";
    pen.fillRect(0, 0, canvas.width, canvas.height);
    pen.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
    bitmap.close();
    for (const quality of qualities) {
      const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", quality));
      const data = blob ? await base64Of(blob) : "";
      if (data !== "" && data.length <= mostText) return { ok: true, data };
    }
  } catch {
    // Said below: the browser could not read it.
  }
  return {
    ok: false,
    problem: "This picture cannot be read. Take or choose it again, or save a copy as JPEG.",
  };
}
