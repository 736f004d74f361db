import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig, type Plugin } from "vite";

/** Server code that would reach the browser's bundle stops the build: a loader's imports are stripped, anything left is a leak. */
function noServerCodeInBrowser(): Plugin {
  const serverFolder = new URL("./server/", import.meta.url).pathname;
  return {
    name: "no-server-code-in-browser",
    load(id) {
      if (this.environment.name === "client" && id.startsWith(serverFolder)) {
        this.error(`${id.slice(serverFolder.length)} of server/ would be sent to the browser`);
      }
      return null;
    },
  };
}

/**
 * Vite's helper for what is loaded later fetches the lists of scripts and styles that go along. There are none here: the styles are one
 * file, and `modulePreload` is off. Without it every page is 0.8 kB lighter (measured, gzipped).
 */
const loadPlainly: Plugin = {
  name: "load-plainly",
  enforce: "pre",
  load: (id) => (id === "\0vite/preload-helper.js" ? "export const __vitePreload = (load) => load();" : null),
};

/**
 * What many pages share goes in a few pieces, and not in a dozen of a few hundred bytes each: every piece has a cost of its own.
 * Schemas stay out: recording reads no forms.
 */
const words =
  /core\/(words\/(?!read-time|fixed-|family-page|event|es\/|en\/(?!credited))|criteria\/purposes|goal-wording\/blanks|dates\/day-number)|node_modules\/uuid/;
const measures =
  /core\/(report\/entry-line|words\/en\/entries|marks\/|measures\/(?!fields|kind-names|merge-entries|planned-|part-history|measure\.|sheet-line|details-of|kind-details|[a-z-]*schema|[a-z-]+\/(schema|sheet-line|details))|sitting\/read-sheet)/;
const device =
  /app\/recording\/(device\/(?!queue-again|lock|leave|hand-over|hand-in)|right-time|sitting\/(store|sheet|use-sitting|sitting-keys))|core\/dates\/school-time|node_modules\/idb/;
const marks = /app\/measures\/(rows\.|rows-of|trials\/trial-pad|[a-z]+\/rows\.|running-total\/entry-form)/;
const pads = /app\/measures\/(pads\.|rows-pad|clock\.|signal\.|[a-z-]+\/pad\.)/;

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [noServerCodeInBrowser(), loadPlainly, tailwindcss(), reactRouter()],
  build: {
    target: "es2023",
    assetsInlineLimit: 0,
    // The service worker is made from it and it does not stay.
    manifest: true,
    // What a page loads later is small and mostly kept on the device already: no list of it goes along with each page.
    modulePreload: false,
    rollupOptions: isSsrBuild
      ? { input: "./server/web/main.ts" }
      : {
          output: {
            advancedChunks: {
              groups: [
                {
                  name: "framework",
                  test: /node_modules\/(react|react-dom|react-router|scheduler)\//,
                  priority: 3,
                },
                // What every view has: its title, what is said of it, its keys. No page fetches recording for it.
                // What loads something later is in it too: where the recording device loads its lock, it would come with that.
                { name: "view", test: /app\/ui\/(keys|say|page-title)\.|preload-helper/, priority: 2 },
                // Pages with a form and no recording would fetch all of recording for its fields.
                {
                  name: "fields",
                  test: /app\/ui\/field\./,
                  minShareCount: 2,
                  priority: 1,
                },
                { name: "form", test: /app\/kit\/(use-form|keep-typed-offline)/, minShareCount: 2 },
                { name: "words", test: words, minShareCount: 2 },
                { name: "measures", test: measures, minShareCount: 2 },
                { name: "device", test: device, minShareCount: 2 },
                { name: "marks", test: marks, minShareCount: 2 },
                { name: "pads", test: pads },
                // Of the recording screens only those of an incident and a jot have a time to type, and say what was just saved.
                {
                  name: "incident-time",
                  test: /app\/ui\/time-input|core\/words\/read-time-of-day|app\/recording\/(incident\/when|saved-line|take-back)/,
                  minShareCount: 2,
                },
                // Pages that read a time and mark nothing would fetch every row of marks with it.
                { name: "read-time", test: /core\/words\/read-time\.ts/, minShareCount: 2, priority: 1 },
                // Split in two, the drawing of a goal's page would weigh more than the one it shares with the report.
                {
                  name: "chart",
                  test: /app\/ui\/(chart-shapes|progress-chart)\.|core\/chart\/(label|value-axis)/,
                },
              ],
            },
          },
        },
  },
}));
