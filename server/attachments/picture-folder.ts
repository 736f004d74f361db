import { mkdir, readFile, rename, rm, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";

/** Where the bytes of pictures are stored: a folder, where the setting names one; else in the database. */
export const pictureFolder = (): string | null => process.env["PICTURES_FOLDER"] || null;

const fileOf = (folder: string, schoolId: string, sha256: string) =>
  join(folder, schoolId, sha256.slice(0, 2), `${sha256}.jpg`);

/** Writes the bytes of a picture under their hash. It has another name until it is whole. Written twice it is the same file. */
export async function writePictureFile(
  folder: string,
  schoolId: string,
  { sha256, content }: { sha256: string; content: Buffer },
): Promise<void> {
  const file = fileOf(folder, schoolId, sha256);
  await mkdir(dirname(file), { recursive: true, mode: 0o700 });
  const part = `${file}.${process.pid}.${Date.now()}.part`;
  await writeFile(part, content, { mode: 0o600, flush: true });
  await rename(part, file);
}

/** Reads the bytes of a picture from the folder. */
export const readPictureFile = (folder: string, schoolId: string, sha256: string): Promise<Buffer> =>
  readFile(fileOf(folder, schoolId, sha256));

/** Removes the bytes of a picture from the folder; where they are not there it is done. */
export const removePictureFile = (folder: string, schoolId: string, sha256: string): Promise<void> =>
  rm(fileOf(folder, schoolId, sha256), { force: true });
