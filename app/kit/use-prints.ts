import { useEffect } from "react";

/** Tells the server that a page about a student is printed, which their access record has. */
export function usePrints(studentId: string | undefined): void {
  useEffect(() => {
    if (studentId === undefined) return;
    const tell = () => {
      const form = new FormData();
      form.set("page", location.pathname);
      navigator.sendBeacon(`/students/${studentId}/printed`, form);
    };
    addEventListener("beforeprint", tell);
    return () => removeEventListener("beforeprint", tell);
  }, [studentId]);
}
