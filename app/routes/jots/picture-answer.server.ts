import { pictureFolder, readPictureFile } from "#server/attachments/picture-folder.ts";
import type { FoundPicture } from "#server/db/pictures.ts";

/** The answer with a picture. No browser keeps it: a shared device forgets it with its page. */
export async function pictureAnswer({
  schoolId,
  type,
  sha256,
  content,
}: FoundPicture & { schoolId: string }): Promise<Response> {
  const bytes = content ?? (await readPictureFile(pictureFolder() ?? "", schoolId, sha256));
  return new Response(new Uint8Array(bytes), {
    headers: {
      "Content-Type": type,
      "Content-Length": String(bytes.length),
      "Content-Disposition": "inline",
      "Cache-Control": "no-store",
    },
  });
}
