import * as z from "zod/mini";
import { label, labels, mostParts } from "../fields.ts";

export const checklistMeasure = z.object({ kind: z.literal("checklist"), items: labels("items") });
export type ChecklistMeasure = z.infer<typeof checklistMeasure>;

export const named = z.array(label).check(z.maxLength(mostParts));
export const observed = z.object({ known: named, probed: z.optional(named) });
export const checklistEntry = z.extend(observed, { kind: z.literal("checklist") });
export type ChecklistEntry = z.infer<typeof checklistEntry>;

export const checklistSchemas = { measure: checklistMeasure, observed, entry: checklistEntry };
