import {
  DndContext,
  MouseSensor,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { type Line, type Rows, sameRow, useWrittenRows } from "#app/kit/use-written-rows.ts";
import { meetingWords, slotsOf, weeklyRows } from "#core/schedule/timetable.ts";
import { plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { contentTag } from "#server/db/content-tag.ts";
import { type Group, listGroups, retireGroup, saveGroup } from "#server/db/groups.ts";
import { listStudents } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { RegisterLine, RegisterLines } from "#app/ui/register-lines.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { id, type Problems, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { RowsEditor } from "#app/ui/rows-editor.tsx";
import { say } from "#app/ui/say.ts";
import { useShifted } from "#app/ui/sortable.tsx";
import { readRows, rowName, type TypedRow } from "#app/ui/typed-rows.ts";
import { useAwake } from "#app/ui/use-awake.ts";
import { readWeek, typedWeek } from "./weekly-rows.ts";
import type { Route } from "./+types/groups";

/** The field of a row that says whether a student is in it. */
const memberName = (studentId: string) => `member-${studentId}`;
/** The name under which the times of one group are sent. */
const meetsOf = (groupId: string) => `meets-${groupId || "new"}`;

/** What is compared to tell whether a group was changed: of its students, those whom the person sees. */
const tagOf = ({ name, meets, studentIds }: Pick<Group, "name" | "meets" | "studentIds">) =>
  contentTag([
    name,
    meets.map(({ weekday, startsAt, endsAt }) => `${weekday} ${startsAt} ${endsAt}`).sort(),
    [...studentIds].sort(),
  ]);

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const students = (await listStudents(scope)).map(({ studentId, name, initials }) => ({
      ...{ studentId, name, initials },
    }));
    const groups = (await listGroups(scope)).map((group) => ({
      ...group,
      ...{ when: meetingWords(group.meets), seen: tagOf(group) },
    }));
    const { groupId } = params;
    if (groupId !== undefined && groupId !== "new" && !groups.some((group) => group.groupId === groupId))
      notFound();
    return { mayEdit: may(scope.actor, "school.edit", { circleRole: null }), students, groups };
  });
}

const groupRow = z.looseObject({
  groupId: z.pipe(
    z._default(z.union([id, z.literal("")]), ""),
    z.transform((given) => ({ given, groupId: given || newId() })),
  ),
  name: text(60, "What is the group called?"),
  retired: z._default(z.enum(["yes", ""]), ""),
  seen: z._default(z.string(), ""),
});

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { typed, wrong }) {
    const { values, problems } = readRows(typed, "group", groupRow);
    const now = await listGroups(scope);
    const mine = (await listStudents(scope)).map(({ studentId }) => studentId);
    const read = values.map(({ place, value }) => {
      const { given, groupId } = value.groupId;
      const week = readWeek(typed, meetsOf(given), { named: false });
      if (value.retired !== "yes") Object.assign(problems, week.problems);
      const group = {
        ...{ groupId, name: value.name },
        meets: slotsOf(week.rows).map(({ weekday, startsAt, endsAt }) => ({ weekday, startsAt, endsAt })),
        studentIds: mine.filter((studentId) => value[memberName(studentId)] === "on"),
      };
      return { place, group, seen: value.seen, isRetired: value.retired === "yes" };
    });
    // A group that is as it was when the page was opened was not touched, whatever another person did since.
    const changed = read.filter(({ group, seen, isRetired }) => isRetired || tagOf(group) !== seen);
    const together: Problems = {};
    for (const { place, group, seen } of changed) {
      const there = now.find(({ groupId }) => groupId === group.groupId);
      if (there && tagOf(there) !== seen)
        together[rowName("group", place, "name")] =
          "Another person changed this group in the meantime. Open Groups again in another tab and compare.";
    }
    Object.assign(problems, { ...together, ...problems });
    if (Object.keys(problems).length > 0) return wrong(problems);
    for (const { group, isRetired } of changed)
      if (isRetired) await retireGroup(scope, group.groupId, scope.today);
      else await saveGroup(scope, group);
    return redirect("/school/groups");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const fields = [
  { name: "days", label: "Weekdays", type: "weekdays" },
  { name: "startsAt", label: "From", type: "time", className: "w-24 sm:w-30" },
  { name: "endsAt", label: "To", type: "time", className: "w-24 sm:w-30" },
] as const;

type Listed = Route.ComponentProps["loaderData"]["groups"][number];
type Student = Route.ComponentProps["loaderData"]["students"][number];
type Came = Pick<ReturnType<typeof useForm>, "typed" | "problems">;

const blank: TypedRow = { groupId: "", name: "", retired: "", seen: "" };
const rowOf = ({ groupId, name, seen, studentIds }: Listed): TypedRow => ({
  ...{ groupId, name, retired: "", seen },
  ...Object.fromEntries(studentIds.map((studentId) => [memberName(studentId), "on"])),
});

/** Whom a group has: those one may see, and how many others. */
function Members({ initials, others }: { initials: readonly string[]; others: number }) {
  return (
    <span className="basis-full text-[0.9375rem]">
      {initials.join(" · ")}
      {others > 0 ? (
        <span className="text-soft">
          {initials.length > 0 ? " and " : ""}
          {others} {plural(others, "student")} in whose circle you are not
        </span>
      ) : initials.length === 0 ? (
        <span className="text-soft">no members yet</span>
      ) : null}
    </span>
  );
}

const Sheets = ({ groupId }: { groupId: string }) => (
  <Link className="link shrink-0 text-fine" to={`/sheets?group=${groupId}`}>
    Data sheets
  </Link>
);

/** A student who is dragged into a group. */
function Card({ student }: { student: Student }) {
  // By keys and for assistive technology a group is opened and its names are ticked.
  const { listeners, setNodeRef, transform, isDragging } = useDraggable({ id: student.studentId });
  const ref = useShifted(setNodeRef, transform);
  return (
    <li
      ref={ref}
      {...listeners}
      title={student.name}
      className={`student-card ${isDragging ? "is-held" : ""}`}
    >
      {student.initials}
    </li>
  );
}

function GroupLine({
  line,
  at,
  rows,
  there,
  students,
  isOpen,
  typed,
  problems,
}: {
  line: Line;
  at: number;
  rows: Rows;
  there: Listed | undefined;
  students: readonly Student[];
  isOpen: boolean;
} & Came) {
  const { row } = line;
  const { setNodeRef, isOver } = useDroppable({ id: line.key });
  // Without scripts a line cannot say that it was opened: its ticks stand there from the beginning.
  const awake = useAwake();
  const groupId = row["groupId"] ?? "";
  const isBlank = rows.isBlank(row);
  const isRetired = row["retired"] === "yes";
  const set = (part: TypedRow) => rows.set(line.key, { groupId: groupId || newId(), ...part });
  const name = (field: string) => rowName("group", at, field);
  const members = students.filter(({ studentId }) => row[memberName(studentId)] === "on");
  const hasTimesWrong = Object.keys(problems).some((one) => one.startsWith(`${meetsOf(groupId)}.`));
  return (
    <RegisterLine
      ref={setNodeRef}
      line={line}
      isOpen={isOpen || hasTimesWrong}
      isChanged={!isBlank && !rows.from.some((one) => sameRow(one, row))}
      className={isOver ? "is-over" : ""}
      aside={there && there.studentIds.length > 0 ? <Sheets groupId={there.groupId} /> : null}
      head={
        isBlank ? (
          <span className="text-soft italic">Another group</span>
        ) : (
          <>
            <b
              className={`font-serif text-[1.05rem] font-semibold ${isRetired ? "line-through" : ""}`}
              dir="auto"
            >
              {row["name"] || "New group"}
            </b>
            <span className="text-fine text-soft">{there ? there.when || "no set times" : ""}</span>
            <Members initials={members.map(({ initials }) => initials)} others={there?.others ?? 0} />
          </>
        )
      }
    >
      {(opened) => (
        <div role="group" aria-label={row["name"] || "New group"} className="grid gap-5">
          <input type="hidden" name={name("groupId")} value={groupId} />
          <input type="hidden" name={name("seen")} value={row["seen"]} />
          <Field
            label="Group"
            name={name("name")}
            dir="auto"
            maxLength={60}
            className="max-w-md"
            value={row["name"] ?? ""}
            problem={line.wrong["name"]}
            onChange={({ target }) => set({ name: target.value })}
          />
          <RowsEditor
            prefix={meetsOf(groupId)}
            title="Meets"
            called="time"
            fields={fields}
            rows={typedWeek(weeklyRows((there?.meets ?? []).map((meeting) => ({ ...meeting, name: "" }))))}
            {...{ typed, problems }}
          />
          <fieldset>
            <legend className="font-serif text-[1.15rem] font-semibold">Students</legend>
            {students.length === 0 ? (
              <p className="text-soft">
                You are in no student’s circle yet; case managers put their own students in.
              </p>
            ) : opened || !awake ? (
              <div className="mt-1 grid gap-x-4 sm:grid-cols-2">
                {students.map((student) => (
                  <label key={student.studentId} className="flex min-h-9 items-center gap-2">
                    <input
                      type="checkbox"
                      name={name(memberName(student.studentId))}
                      className="size-4.5 accent-primary"
                      checked={row[memberName(student.studentId)] === "on"}
                      onChange={({ target }) =>
                        set({ [memberName(student.studentId)]: target.checked ? "on" : "" })
                      }
                    />
                    <bdi>{student.name}</bdi>
                  </label>
                ))}
              </div>
            ) : (
              members.map(({ studentId }) => (
                <input key={studentId} type="hidden" name={name(memberName(studentId))} value="on" />
              ))
            )}
          </fieldset>
          {there ? (
            <label className="flex min-h-9 items-center gap-2">
              <input
                type="checkbox"
                name={name("retired")}
                value="yes"
                className="size-4.5 accent-primary"
                checked={isRetired}
                onChange={({ target }) => set({ retired: target.checked ? "yes" : "" })}
              />
              This group no longer meets
            </label>
          ) : null}
        </div>
      )}
    </RegisterLine>
  );
}

function GroupLines({
  groups,
  students,
  openId,
  ...came
}: { groups: readonly Listed[]; students: readonly Student[]; openId: string | undefined } & Came) {
  const rows = useWrittenRows("group", { rows: groups.map(rowOf), blank, ...came });
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 4 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 150, tolerance: 8 } }),
  );
  return (
    <DndContext
      id="groups"
      sensors={sensors}
      onDragEnd={({ active, over }) => {
        const line = rows.lines.find(({ key }) => key === over?.id);
        const student = students.find(({ studentId }) => studentId === active.id);
        if (!line || !student) return;
        rows.set(line.key, {
          groupId: line.row["groupId"] || newId(),
          [memberName(student.studentId)]: "on",
        });
        say(`${student.initials} is put into ${line.row["name"] || "the new group"}`);
      }}
    >
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_13rem]">
        <RegisterLines {...rows.around}>
          {rows.lines.map((line, at) => (
            <GroupLine
              key={line.key}
              {...{ line, at, rows, students, ...came }}
              there={groups.find(({ groupId }) => groupId === line.row["groupId"])}
              isOpen={openId !== undefined && line.row["groupId"] === (openId === "new" ? "" : openId)}
            />
          ))}
        </RegisterLines>
        {students.length > 0 ? (
          <section aria-label="Students to drag" className="with-scripts max-lg:hidden">
            <div className="sticky top-4">
              <p className="text-fine text-soft">
                Drag a student onto a group, or open the group and tick names.
              </p>
              <ul className="mt-2 flex flex-wrap gap-1.5">
                {students.map((student) => (
                  <Card key={student.studentId} student={student} />
                ))}
              </ul>
            </div>
          </section>
        ) : null}
      </div>
    </DndContext>
  );
}

/** The groups that meet. Whoever sets up the school changes them in their lines, and saves them once. */
export default function Groups({ loaderData, actionData, params }: Route.ComponentProps) {
  const { groups, students, mayEdit } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  const initials = new Map(students.map((student) => [student.studentId, student.initials]));
  return (
    <>
      <PageTitle title="Groups" className="sr-only" />
      <section aria-label="Groups that meet" className="max-w-5xl">
        {groups.length === 0 ? (
          <EmptyState title="No groups yet">
            <p>
              A group is a few students who meet at set times: a reading table, adapted PE, a lunch group.
              Data for all of them can then be taken together.
            </p>
          </EmptyState>
        ) : null}
        {mayEdit ? (
          <KeptForm draft="groups" method="post" noValidate>
            <FormProblem>{problems["form"]}</FormProblem>
            <GroupLines openId={params.groupId} {...{ groups, students, problems, typed }} />
            <SaveBar busy={busy}>Save the groups</SaveBar>
          </KeptForm>
        ) : (
          <ul className="entry-lines">
            {groups.map((group) => (
              <li key={group.groupId} className="entry-line py-2">
                <span className="flex flex-1 flex-wrap items-baseline gap-x-3">
                  <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                    {group.name}
                  </b>
                  <span className="text-fine text-soft">{group.when || "no set times"}</span>
                  <Members
                    initials={group.studentIds.map((studentId) => initials.get(studentId) ?? "")}
                    others={group.others}
                  />
                </span>
                {group.studentIds.length > 0 ? <Sheets groupId={group.groupId} /> : null}
              </li>
            ))}
          </ul>
        )}
      </section>
    </>
  );
}
