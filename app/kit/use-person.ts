import { useEffect } from "react";
import { actAs } from "./act-as.ts";
import { forgetDraftsOfOthers } from "./tab-draft.ts";

/** This page was made for a person: it saves nothing as another one, and shows no draft of another one. */
export function usePerson(personId: string): void {
  useEffect(() => forgetDraftsOfOthers(personId), [personId]);
  useEffect(() => actAs(personId), [personId]);
}
