/**
 * The process that makes PDFs: it keeps one Chromium and prints one document after the other. It has no way to the database, and its
 * browser none to a network: whatever a document names comes from the folders of its job or not at all, and no script of it runs.
 */
import { chmodSync, chownSync, existsSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { readFile, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, chromium, type Route } from "playwright-core";
import { log, loggableError } from "../failure.ts";
import { findChromium } from "./chromium.ts";
import { behindToo } from "./behind.ts";
import { childrenOf, type PrintJob, type Printed } from "./printer.ts";

/** Nobody, in Debian: the account that may do nothing. */
const nobody = 65_534;
const place = "http://report.invalid";

const flags = ["--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"];
const more = ["--disable-component-update", "--disable-sync", "--disable-extensions", "--mute-audio"];

const named = "gentle-margin-print-";
/** A process that was killed leaves its folder: the next one removes it. */
for (const left of readdirSync(tmpdir()).filter((name) => name.startsWith(named))) {
  const pid = left.slice(named.length).split("-")[0] ?? "";
  try {
    if (!existsSync(`/proc/${pid}`)) rmSync(join(tmpdir(), left), { recursive: true, force: true });
  } catch {
    continue;
  }
}
const profile = mkdtempSync(join(tmpdir(), `${named}${process.pid}-`));
process.on("exit", () => {
  try {
    rmSync(profile, { recursive: true, force: true, maxRetries: 3 });
  } catch {
    // The browser has not ended yet. What is left is removed with the next start.
  }
});
for (const signal of ["SIGTERM", "SIGINT", "SIGHUP"] as const) process.on(signal, () => process.exit(0));
// Whoever started this process is gone.
process.on("disconnect", () => process.exit(0));

/** As root the browser runs as nobody. Its own sandbox is used where the system has what it needs. */
async function launch(program: string): Promise<BrowserContext> {
  const isRoot = process.getuid?.() === 0;
  const asNobody = join(profile, "chromium");
  const open = async (executablePath: string, sandbox: boolean) => {
    const folder = mkdtempSync(join(profile, "home-"));
    if (executablePath === asNobody) chownSync(folder, nobody, nobody);
    return chromium.launchPersistentContext(folder, {
      executablePath,
      chromiumSandbox: sandbox,
      javaScriptEnabled: false,
      acceptDownloads: false,
      serviceWorkers: "block",
      userAgent: "Gentle Margin",
      colorScheme: "light",
      timeout: 30_000,
      args: [...flags, ...more, ...(sandbox ? [] : ["--no-sandbox"])],
      env: { PATH: process.env["PATH"] ?? "", HOME: folder, TMPDIR: folder },
    });
  };
  if (isRoot) {
    writeFileSync(
      asNobody,
      `#!/bin/sh\nexec setpriv --reuid=${nobody} --regid=${nobody} --clear-groups --no-new-privs "${program}" "$@"\n`,
    );
    chmodSync(asNobody, 0o755);
    // The folder above is root's own: nobody passes through it and reads nothing of it.
    chmodSync(profile, 0o711);
  }
  const ways: [string, boolean][] = isRoot
    ? [
        [asNobody, true],
        [asNobody, false],
        [program, false],
      ]
    : [
        [program, true],
        [program, false],
      ];
  let last: unknown;
  for (const [path, sandbox] of ways) {
    try {
      const context = await open(path, sandbox);
      for (const pid of childrenOf(process.pid)) behindToo(pid);
      log.info({ asNobody: path === asNobody, sandbox }, "print browser started");
      return context;
    } catch (error) {
      last = error;
    }
  }
  throw last;
}

let browser: Promise<BrowserContext> | null = null;

/** What a document names: itself, with more styles at its end, and the pictures of its folder. */
async function answer(route: Route, { folder }: PrintJob, styles: string): Promise<void> {
  const { pathname, origin } = new URL(route.request().url());
  if (origin !== place) return route.abort();
  if (pathname === "/page.html")
    return route.fulfill({
      contentType: "text/html; charset=utf-8",
      body: (await readFile(join(folder, "page.html"), "utf8")) + (styles && `<style>${styles}</style>`),
    });
  const [, name] = /^\/pictures\/([\w-]+)$/.exec(pathname) ?? [];
  return name === undefined ? route.abort() : route.fulfill({ path: join(folder, "pictures", name) });
}

/** How many pages a file of Chromium has: it writes a dictionary of this type for each, and does not compress it. */
const pagesIn = (pdf: Buffer): number => pdf.toString("latin1").match(/\/Type \/Page\b/g)?.length ?? 0;

/**
 * Styles that put an empty page after each report that ends on a right-hand page, so that the next one begins on one. Chromium breaks to a next
 * page and not to a right-hand one (`break-before: right`): so each report but the last is printed alone, and its pages are counted.
 *
 * @param reports how many there are
 * @param printWith prints the document with more styles
 */
async function endOnLeftPages(
  reports: number,
  printWith: (styles: string) => Promise<Buffer>,
): Promise<string> {
  const odd: number[] = [];
  for (let at = 0; at < reports - 1; at += 1) {
    const alone = await printWith(`main.filed:not(.report-${at}) { display: none !important; }`);
    if (pagesIn(alone) % 2 === 1) odd.push(at);
  }
  const after = odd.map((at) => `main.report-${at}::after`).join(", ");
  return after && `${after} { content: ""; display: block; height: 1px; break-before: page; page: blank; }`;
}

async function print(job: PrintJob): Promise<Printed> {
  const program = findChromium();
  if (program === null) return { why: "no-chromium" };
  browser ??= launch(program);
  const context = await browser.catch((error: unknown) => {
    browser = null;
    throw error;
  });
  context.once("close", () => (browser = null));
  const page = await context.newPage();
  let more = "";
  try {
    await page.route("**/*", (route) => answer(route, job, more).catch(() => route.abort()));
    await page.emulateMedia({ media: "print", colorScheme: "light" });
    const printWith = async (styles: string) => {
      more = styles;
      await page.goto(`${place}/page.html`, { waitUntil: "load", timeout: job.timeoutMs });
      return page.pdf({ preferCSSPageSize: true, printBackground: true, tagged: true, outline: true });
    };
    const filled = job.onRightPages ? await endOnLeftPages(job.onRightPages, printWith) : "";
    await writeFile(job.out, await printWith(filled), { mode: 0o600 });
    return { why: null };
  } finally {
    await page.close().catch(() => undefined);
  }
}

let last: Promise<unknown> = Promise.resolve();
process.on("message", (job: PrintJob) => {
  last = last.then(async () => {
    const done = await print(job).catch((error: unknown): Printed => {
      log.error({ error: loggableError(error) }, "print failed");
      return { why: "failed" };
    });
    process.send?.({ id: job.id, ...done });
  });
});
