import { useEffect, useRef } from "react";
import { useNavigation } from "react-router";

/** After a form came back with problems: the first field that is wrong has the focus, or what is said of the form is in view. */
export function useFocusOnProblem(): void {
  const { state } = useNavigation();
  const submitted = useRef(false);
  useEffect(() => {
    if (state === "submitting") submitted.current = true;
    if (state !== "idle" || !submitted.current) return;
    submitted.current = false;
    const field = document.querySelector<HTMLElement>("main [aria-invalid='true']");
    if (field) field.focus();
    else document.querySelector("main [role='alert']:not(:empty)")?.scrollIntoView({ block: "nearest" });
  }, [state]);
}
