import type { Config } from "@react-router/dev/config";

export default {
  appDirectory: "app",
  // A new build is made beside the one that serves.
  buildDirectory: process.env["GENTLE_MARGIN_BUILD"] ?? "build",
  ssr: true,
  // The whole map comes with the first page. Asked for route by route, it may come too late on a slow machine, and what
  // is there is then taken for a page that is not.
  routeDiscovery: { mode: "initial" },
} satisfies Config;
