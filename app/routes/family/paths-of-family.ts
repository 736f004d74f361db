import type { ReportPaths } from "#app/report/report-paths.ts";

/** Where a guardian finds what a report names: pictures by their own path, and no page of the staff. */
export const pathsOfFamily = (guardianId: string): ReportPaths => ({
  page: () => null,
  picture: (_, pictureId) => `/family/${guardianId}/pictures/${pictureId}`,
});
