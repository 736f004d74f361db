import { findChromium } from "#server/exports/chromium.ts";

/** Debian's Chromium, as files are printed with it; where there is none, a test says so by this place. */
export const browserPath = findChromium() ?? "/usr/bin/chromium";
