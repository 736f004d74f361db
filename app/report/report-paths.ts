import { createContext, useContext } from "react";

/** Where what a report names is found: `page` is null where its readers have no such page. */
export interface ReportPaths {
  page: (studentId: string, page: string) => string | null;
  picture: (studentId: string, pictureId: string) => string;
  /** Is it drawn for a file? Then nothing in it leads anywhere. */
  isFile?: boolean;
}

/** The paths of the staff. The family's pages give their own. */
export const ReportPathsContext = createContext<ReportPaths>({
  page: (studentId, page) => `/students/${studentId}/${page}`,
  picture: (studentId, pictureId) => `/students/${studentId}/pictures/${pictureId}`,
});

/** The paths for the readers of this report. */
export const useReportPaths = (): ReportPaths => useContext(ReportPathsContext);
