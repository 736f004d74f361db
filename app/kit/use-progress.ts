import { useEffect } from "react";
import { useRevalidator } from "react-router";

/** Reads the page again each second while something is under way that it shows. */
export function useProgress(isUnderWay: boolean): void {
  const { revalidate, state } = useRevalidator();
  useEffect(() => {
    if (!isUnderWay || state !== "idle") return;
    const timer = window.setTimeout(() => {
      if (!document.hidden) void revalidate();
    }, 1000);
    const seen = () => {
      if (!document.hidden) void revalidate();
    };
    document.addEventListener("visibilitychange", seen);
    return () => {
      window.clearTimeout(timer);
      document.removeEventListener("visibilitychange", seen);
    };
  }, [isUnderWay, revalidate, state]);
}
