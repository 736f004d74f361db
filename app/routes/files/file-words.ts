import type { FileFormat } from "#core/report/file-formats.ts";

/** What a file is called, and what it is good for. */
export const formatWords: Record<FileFormat, { name: string; about: string }> = {
  pdf: { name: "PDF", about: "To print, hand over or file. It looks the same everywhere." },
  docx: { name: "Word", about: "To edit further: headings, tables and charts." },
  xlsx: { name: "Spreadsheet", about: "Each goal’s points as numbers and dates, a sheet a goal." },
  csv: { name: "CSV", about: "The points of all goals, to compute the figures again." },
  json: { name: "JSON", about: "The report as data, for other programs." },
  text: { name: "Text", about: "Plain text, goal by goal, to paste where only text is taken." },
  record: {
    name: "Full record",
    about: "A folder with the PDF, the text, the numbers and all pictures, for a parent’s request.",
  },
};
