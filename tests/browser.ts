import { existsSync } from "node:fs";

const shell = "/usr/bin/chromium-headless-shell";
/** Debian's Chromium without a window, a quarter faster than the whole one; the whole one where only that is installed. */
export const browserPath = existsSync(shell) ? shell : "/usr/bin/chromium";
