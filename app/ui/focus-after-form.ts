import { useEffect, useRef } from "react";
import { useNavigation } from "react-router";
import { focusHeading } from "./say.ts";

/**
 * After a form was sent: the first field that is wrong has the focus, or what is said of the form is in view. Where the form was drawn
 * anew and what had the focus is gone, the heading of the view has it.
 */
export function useFocusAfterForm(): void {
  const { state } = useNavigation();
  const submitted = useRef(false);
  useEffect(() => {
    if (state === "submitting") submitted.current = true;
    if (state !== "idle" || !submitted.current) return;
    submitted.current = false;
    const field = document.querySelector<HTMLElement>("main [aria-invalid='true']");
    if (field) field.focus();
    else {
      document.querySelector("main [role='alert']:not(:empty)")?.scrollIntoView({ block: "nearest" });
      if (document.activeElement === document.body) focusHeading();
    }
  }, [state]);
}
