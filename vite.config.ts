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

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [noServerCodeInBrowser(), tailwindcss(), reactRouter()],
  build: {
    target: "es2023",
    assetsInlineLimit: 0,
    // The service worker is made from it and it does not stay.
    manifest: true,
    ...(isSsrBuild ? { rollupOptions: { input: "./server/web/main.ts" } } : {}),
  },
}));
