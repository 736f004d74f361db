import { useEffect, useState } from "react";
import { Form } from "react-router";
import type { ReportLine } from "#core/report/report-lines.ts";

const seconds = 10;

/** What was just saved, with a way back for ten seconds; after that its own page corrects and removes it. */
export function SavedNotice({ line, studentId }: { line: ReportLine; studentId: string }) {
  const [isOver, setIsOver] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setIsOver(true), seconds * 1000);
    return () => clearTimeout(timer);
  }, []);
  if (isOver) return null;
  return (
    <Form
      method="post"
      action={`/students/${studentId}/${line.page}`}
      aria-label="Just saved"
      className="no-print mt-3 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-1"
    >
      <p className="min-w-0 flex-1" dir="auto">
        Saved: {line.sentence}
      </p>
      <input type="hidden" name="intent" value="remove" />
      <input type="hidden" name="revision" value={line.revision} />
      <button className="btn btn-plain h-11">Undo</button>
    </Form>
  );
}
