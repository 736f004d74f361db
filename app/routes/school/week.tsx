import * as z from "zod/mini";
import { defineAction } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar, readTimetable, replaceTimetable } from "#server/db/calendar.ts";
import { contentTag } from "#server/db/content-tag.ts";
import { slotsOf, weeklyRows } from "#core/schedule/timetable.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar, Seen } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { RowsEditor } from "#app/ui/rows-editor.tsx";
import { dayTicks } from "#app/ui/typed-rows.ts";
import { WeekPicture } from "./week-picture.tsx";
import { readWeek, typedWeek } from "./weekly-rows.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/week";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const slots = await readTimetable(scope);
    return {
      slots,
      seen: contentTag(slots),
      schoolDays: (await readCalendar(scope)).schoolDays,
      mayEdit: may(scope.actor, "school.edit", { circleRole: null }),
    };
  });
}

export const action = defineAction({
  permission: "school.edit",
  schema: z.object({ seen: z._default(z.string(), "") }),
  async run(scope, { seen }, { typed, wrong }) {
    const { rows, problems } = readWeek(typed, "slots", { named: true });
    if (rows.length > 200) problems["form"] = "At most 200 periods.";
    if (Object.keys(problems).length > 0) return wrong(problems);
    const outcome = await replaceTimetable(scope, slotsOf(rows), seen);
    return outcome === "conflict"
      ? wrong(
          {
            form: "The timetable was changed by someone else in the meantime. Open it again in another tab, check it, and add what is missing.",
          },
          409,
        )
      : redirect("/school/week");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const fields = [
  { name: "name", label: "Period", type: "text", className: "flex-1 min-w-32" },
  { name: "startsAt", label: "From", type: "time", className: "w-28" },
  { name: "endsAt", label: "To", type: "time", className: "w-28" },
  { name: "days", label: "Weekdays", type: "weekdays" },
] as const;

export default function Week({ loaderData, actionData }: Route.ComponentProps) {
  const { slots, seen, schoolDays, mayEdit } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  const weekdays = [1, 2, 3, 4, 5, 6, 7].filter(
    (day) => schoolDays.includes(day) || slots.some(({ weekday }) => weekday === day),
  );
  return (
    <div className="grid gap-8 xl:grid-cols-[minmax(0,1fr)_auto]">
      <PageTitle title="Timetable" className="sr-only" />
      {mayEdit ? (
        <KeptForm draft="week" method="post" className="grid min-w-0 content-start gap-4" noValidate>
          <FormProblem>{problems["form"]}</FormProblem>
          <Seen value={seen} typed={typed?.["seen"]} />
          <RowsEditor
            prefix="slots"
            title="Periods of the week"
            called="period"
            fields={fields}
            rows={typedWeek(weeklyRows(slots))}
            typed={typed}
            problems={problems}
            blank={dayTicks(schoolDays)}
            weekdays={weekdays}
            hint="By these names entries and patterns say when something was."
          />
          <SaveBar busy={busy}>Save the timetable</SaveBar>
        </KeptForm>
      ) : slots.length === 0 ? (
        <EmptyState title="No timetable yet">
          <p>Once a case manager or an administrator enters the periods, entries say in which they were.</p>
        </EmptyState>
      ) : null}
      {slots.length > 0 ? <WeekPicture slots={slots} weekdays={weekdays} /> : null}
    </div>
  );
}
