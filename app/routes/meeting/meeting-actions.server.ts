import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { audiences } from "#core/report/audience.ts";
import { readSetUp } from "#app/goal-set-up/read-set-up.ts";
import { setUpOf, setUpValues } from "#app/goal-set-up/set-up-values.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { saveDecision } from "#app/routes/student/decide.server.ts";
import { id, problemsOf, text } from "#app/ui/form-data.ts";
import { changeGoal } from "#server/db/goals.ts";
import { changeMeetingNote, endMeeting, writeMeetingNote } from "#server/db/meetings.ts";
import { findGoal } from "#server/db/students.ts";
import { Invalid } from "#server/errors.ts";

type Sent = Submitted<{ studentId: string }>;

const note = (kind: "question" | "agreed") =>
  intent({
    schema: z.object({
      ...{ noteId: id, newMeetingId: id, goalId: z.union([id, z.literal("")]) },
      words: text(1000, kind === "question" ? "Write the question." : "Write what was agreed."),
    }),
    async run(scope, { goalId, ...values }, { params: { studentId } }: Sent) {
      if (goalId) await findGoal(scope, studentId, goalId);
      await writeMeetingNote(scope, studentId, { ...values, goalId: goalId || null, kind });
      return data({ saved: values.noteId });
    },
  });

const change = (act: "removed" | "restored") =>
  intent({
    schema: z.object({ noteId: id }),
    async run(scope, { noteId }, { params: { studentId } }: Sent) {
      await changeMeetingNote(scope, studentId, noteId, act);
      return data({ [act]: noteId });
    },
  });

/** What of a goal is changed in a meeting; everything else of its set-up stays. */
const changed = ["wording", "value", "k", "n", "dueOn"] as const;

/** What is written while a meeting goes on, each at once. */
export const meetingAction = defineIntents({
  permission: "meeting.lead",
  intents: {
    question: note("question"),
    agreed: note("agreed"),
    "take out": change("removed"),
    "put back": change("restored"),
    decide: intent({
      schema: z.object({ goalId: id }),
      permission: "goal.edit",
      async run(scope, { goalId }, { params: { studentId }, form }: Sent) {
        await saveDecision(scope, { studentId, goalId }, form);
        return data({ saved: goalId });
      },
    }),
    criterion: intent({
      schema: z.object({
        ...{ goalId: id, revision: z.coerce.number("This form is incomplete. Close it and open it again.") },
        reason: text(500, "Give a reason: it appears in the goal’s history."),
      }),
      permission: "goal.edit",
      async run(scope, { goalId, revision, reason }, { params: { studentId }, typed }: Sent) {
        const goal = await findGoal(scope, studentId, goalId);
        const read = readSetUp({
          ...setUpValues(setUpOf(goal)),
          ...Object.fromEntries(changed.map((field) => [field, typed[field] ?? ""])),
        });
        if (!read.ok) {
          const problems = problemsOf(read.problems);
          const beside = [...changed, "window"].some((field) => field in problems);
          throw new Invalid({
            ...problems,
            ...(beside ? {} : { form: "This set-up needs more than this form shows. Change it in Set-up." }),
          });
        }
        const outcome = await changeGoal(scope, { studentId, goalId }, read.setUp, {
          ...{ expectedRevision: revision, fromOn: scope.today, reason },
          // The measure stays, and with it what its entries mean.
          ...{ compares: true, renamed: {} },
        });
        if (outcome === "conflict")
          throw new Invalid({
            form: "Another person changed this goal since. Close this form and open it again: it then shows what they changed.",
          });
        return data({ saved: goalId });
      },
    }),
    end: intent({
      schema: z.object({ newMeetingId: id, for: z.enum(audiences) }),
      async run(scope, { newMeetingId, for: audience }, { params: { studentId } }: Sent) {
        await endMeeting(scope, studentId, newMeetingId);
        return redirect(`/students/${studentId}/editions/new?for=${audience}`);
      },
    }),
  },
});
