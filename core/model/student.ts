import * as z from "zod/mini";

const words = (most: number) => z.string().check(z.maxLength(most));
const day = z.nullable(z.iso.date());

/** A student as everyone of the circle knows them. Days are `YYYY-MM-DD`. */
export const studentSchema = z.object({
  studentId: z.uuid(),
  /** Given and family name; one of them is enough. */
  name: z.string().check(z.minLength(1)),
  givenName: words(200),
  familyName: words(200),
  preferredName: z.nullable(words(200)),
  /** Stands for the student on screens that others can see. */
  alias: z.nullable(words(200)),
  /** The preferred name, or the given one. */
  calledName: words(200),
  /** Their own, or made of the name. */
  initials: z.string(),
  ownInitials: z.nullable(z.string()),
  /** What recording screens show: the alias, or the initials. */
  screenName: z.string(),
  grade: z.string(),
  iepFrom: day,
  iepTo: day,
  leftOn: day,
});
export interface Student extends z.infer<typeof studentSchema> {}
