/** Makes the service worker: the recording page, what stands in for pages that cannot be reached, all that the two load, and nothing else. */
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { generateSW } from "workbox-build";

const recordingPage = "/record";
const offlinePage = "/offline";
const roots = ["app/root.tsx", "app/routes/recording/sitting.tsx", "app/routes/recording/offline.tsx"];

/** Every file that these modules load, at once or later, as the build's manifest tells. */
export function filesOf(manifest, sources) {
  const files = new Set();
  const seen = new Set();
  const visit = (key) => {
    const chunk = manifest[key];
    if (!chunk || seen.has(key)) return;
    seen.add(key);
    for (const file of [chunk.file, ...(chunk.css ?? []), ...(chunk.assets ?? [])]) files.add(file);
    for (const next of [...(chunk.imports ?? []), ...(chunk.dynamicImports ?? [])]) visit(next);
  };
  for (const key of Object.keys(manifest)) {
    const { src = key, isEntry } = manifest[key];
    const source = src.split("?", 1)[0];
    if (sources.some((root) => source.endsWith(root)) || (isEntry && /entry\.client/.test(source)))
      visit(key);
  }
  return files;
}

export async function makeServiceWorker(client) {
  const manifest = JSON.parse(readFileSync(join(client, ".vite", "manifest.json"), "utf8"));
  const files = [...filesOf(manifest, roots)].filter((file) => file.startsWith("assets/"));
  if (files.length < 5) throw new Error("the build's manifest does not name what the recording page loads");
  // The map of the site is written beside the build and named by no other file; fonts stand in the style sheet.
  const patterns = [...files, "assets/manifest-*.js", "assets/*.css", "assets/*latin-wght-normal*.woff2"];
  const revision = createHash("sha256").update(files.sort().join()).digest("hex").slice(0, 16);
  const { count, size, warnings } = await generateSW({
    globDirectory: client,
    globPatterns: patterns,
    swDest: join(client, "sw.js"),
    // Names of assets carry their content; the page itself does not, and is asked for anew with each build.
    dontCacheBustURLsMatching: /^assets\//,
    modifyURLPrefix: { "": "/" },
    additionalManifestEntries: [
      { url: recordingPage, revision },
      { url: offlinePage, revision },
    ],
    // Every other page is the server's; where it cannot be reached, one page of ours says so and leads to recording. One is sent on
    // to it: the router takes no page under another address.
    runtimeCaching: [
      {
        urlPattern: ({ request }) => request.mode === "navigate",
        handler: async ({ request, url }) => {
          try {
            return await fetch(request);
          } catch {
            return Response.redirect(`/offline?to=${encodeURIComponent(url.pathname + url.search)}`);
          }
        },
      },
    ],
    ignoreURLParametersMatching: [/^(sitting|tally|incident|jot|to)$/],
    // A new version waits until no page of ours is open, or until one says that no sitting is.
    skipWaiting: false,
    clientsClaim: true,
    cleanupOutdatedCaches: true,
    directoryIndex: null,
    navigateFallback: null,
    inlineWorkboxRuntime: true,
    sourcemap: false,
    mode: "production",
    cacheId: "gentle-margin",
  });
  if (warnings.length > 0) throw new Error(warnings.join("\n"));
  return { count, size };
}
