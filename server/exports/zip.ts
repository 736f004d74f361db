import { createWriteStream } from "node:fs";
import { pipeline } from "node:stream/promises";
import { ZipArchive } from "archiver";

/** A file within a ZIP: its content, or the file it is read from. */
export type ZipEntry = { name: string } & ({ content: string | Buffer } | { path: string });

/** What every system takes as the name of a file, and what leads out of no folder: letters, digits, `.`, `-` and `_`. */
export function fileName(wanted: string): string {
  const name = wanted
    .normalize("NFC")
    .replace(/[^\p{L}\p{M}\p{N}._-]+/gu, "-")
    .replace(/\.{2,}/g, ".")
    .replace(/^[.-]+|[.-]+$/g, "")
    .slice(0, 120);
  // Names that Windows reserves for devices.
  return /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i.test(name) ? `-${name}` : name || "file";
}

/** Writes a ZIP whose files lie in one folder. What is packed already (PDF, pictures) is not packed again. */
export async function writeZip(
  out: string,
  folder: string,
  entries: AsyncIterable<ZipEntry> | Iterable<ZipEntry>,
): Promise<void> {
  const zip = new ZipArchive({ zlib: { level: 6 }, forceUTC: true });
  const written = pipeline(zip, createWriteStream(out, { mode: 0o600 }));
  const taken = new Set<string>();
  for await (const entry of entries) {
    const parts = entry.name.split("/").map(fileName);
    const last = parts.pop() ?? "file";
    let name = [fileName(folder), ...parts, last].join("/");
    for (let time = 2; taken.has(name.toLowerCase()); time += 1)
      name = [fileName(folder), ...parts, last.replace(/(\.\w+)?$/, `-${time}$1`)].join("/");
    taken.add(name.toLowerCase());
    const options = { name, store: /\.(pdf|jpe?g|png|docx|xlsx)$/i.test(name) };
    if ("path" in entry) zip.file(entry.path, options);
    else zip.append(entry.content, options);
  }
  await zip.finalize();
  await written;
}
