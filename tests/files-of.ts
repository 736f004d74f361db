import { execFile } from "node:child_process";
import { existsSync } from "node:fs";
import { join, parse } from "node:path";
import { pathToFileURL } from "node:url";
import { promisify } from "node:util";

const run = promisify(execFile);

/** What Debian's poppler reads in a PDF: a reader that is not ours. */
export async function pdfText(file: string): Promise<string> {
  return (await run("pdftotext", ["-layout", file, "-"], { maxBuffer: 64e6 })).stdout;
}

/** The tags of a PDF as lines, each kind of tag with its text beneath. */
export async function pdfTags(file: string): Promise<string> {
  return (await run("pdfinfo", ["-struct-text", file], { maxBuffer: 64e6 })).stdout;
}

/** What a PDF says of itself: `Title`, `Tagged`, `Pages`, `Page size` … */
export async function pdfFacts(file: string): Promise<Record<string, string>> {
  const { stdout } = await run("pdfinfo", [file]);
  return Object.fromEntries(
    stdout.split("\n").flatMap((line) => {
      const at = line.indexOf(":");
      return at < 0 ? [] : [[line.slice(0, at), line.slice(at + 1).trim()] as const];
    }),
  );
}

/** The fonts of a PDF: their names, and whether each is in it. */
export async function pdfFonts(file: string): Promise<{ name: string; isEmbedded: boolean }[]> {
  const { stdout } = await run("pdffonts", [file]);
  return stdout
    .split("\n")
    .slice(2)
    .filter(Boolean)
    .map((line) => ({
      name: line.split(/\s+/)[0] ?? "",
      isEmbedded: /\b(yes|no)\s+(yes|no)\s+(yes|no)\s+\d+\s+\d+$/.exec(line)?.[1] === "yes",
    }));
}

const office = "/usr/bin/soffice";
/** Is LibreOffice on this machine? */
export const hasOffice = existsSync(office);

/** Opens a Word file or a spreadsheet in LibreOffice and prints it there. Answers with the PDF. */
export async function printedByOffice(file: string, folder: string): Promise<string> {
  // A profile of its own: LibreOffice starts once for each.
  const profile = `-env:UserInstallation=${pathToFileURL(join(folder, "office")).href}`;
  const args = [profile, "--headless", "--convert-to", "pdf", "--outdir", folder, file];
  await run(office, args, { timeout: 300_000 });
  return join(folder, `${parse(file).name}.pdf`);
}
