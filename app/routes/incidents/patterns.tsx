import { useMemo } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Link, redirect, useSearchParams } from "react-router";
import { choosePatterns, readChoice } from "#core/incidents/choose.ts";
import { lengthWords as bandWords } from "#core/report/incident-line.ts";
import { changeWords, rateWords } from "#core/incidents/rate-words.ts";
import { dateWithYear, shortDateWithYear, timeOfDay } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { addPatternNote, listPatternNotes } from "#server/db/pattern-notes.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { readForm, text } from "#app/ui/form-data.ts";
import { notForTheQuery } from "#app/ui/same-page.ts";
import { PatternChange, Plans } from "./change.tsx";
import { ChooseForm } from "./choose-form.tsx";
import { Findings } from "./findings.tsx";
import { readPatternMaterial } from "#server/db/pattern-material.ts";
import { Bars, type Behind, TableFold } from "./pictures.tsx";
import { aspectTitles, patternTables, type PatternTable } from "./tables.ts";
import { TimePicture } from "./time-picture.tsx";
import { IncidentWeek } from "./week-picture.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/patterns";

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "incident.read", studentId, async (scope) => ({
    ...(await readPatternMaterial(scope, studentId)),
    noted: Object.fromEntries(
      (await listPatternNotes(scope, studentId, { limit: 200 })).map(({ words, noteId }) => [
        words,
        `/students/${studentId}/noted/${noteId}`,
      ]),
    ),
    mayNote: may(scope.actor, "entry.record", { circleRole: scope.circleRole }),
    mayPlan: may(scope.actor, "plan.write", { circleRole: scope.circleRole }),
  }));
}

/** Another choice is made from what is here already. */
export const shouldRevalidate = notForTheQuery;

const noteForm = z.object({ words: text(1000, "Which sentence?") });

export async function action({ request, context, params }: Route.ActionArgs) {
  const form = await request.formData();
  const { studentId } = params;
  return authorize(request, context, "entry.record", studentId, async (scope) => {
    const read = readForm(form, noteForm);
    if (!read.ok) return data({ problems: read.problems }, { status: 422 });
    // Only what the numbers say now goes into the report: the sentence is made anew and looked up by its words.
    const { search } = new URL(request.url);
    const { material } = await readPatternMaterial(scope, studentId);
    const choice = readChoice(new URLSearchParams(search), material);
    const { patterns } = choosePatterns(material, choice);
    const finding = patterns.findings.find(({ words }) => words === read.values.words);
    if (!finding)
      return data(
        { problems: { form: "The incidents changed in the meantime, and this sentence no longer applies." } },
        { status: 409 },
      );
    await addPatternNote(
      scope,
      { studentId, noteId: newId() },
      { words: finding.words, strength: finding.strength, from: choice.from, to: choice.to },
    );
    return redirect(`/students/${studentId}/patterns${search}`);
  });
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const noTable = (): PatternTable => ({ head: [], rows: [] });

const totalWords = ({ low, high }: { low: number; high: number | null }) =>
  high === null
    ? `at least ${Math.round(low)} min in all`
    : low === high
      ? `${bandWords({ minutes: Math.round(low) })} in all`
      : `between ${Math.round(low)} and ${Math.round(high)} min in all`;

/** What the incidents of a student have in common: said in sentences first, then counted. */
export default function PatternsPage({
  loaderData: { material, plans, strengths, noted, mayNote, mayPlan },
  actionData,
  params: { studentId },
}: Route.ComponentProps) {
  const [search] = useSearchParams();
  const address = search.toString();
  const { choice, patterns, comparison } = useMemo(() => {
    const chosen = readChoice(new URLSearchParams(address), material);
    return { choice: chosen, ...choosePatterns(material, chosen) };
  }, [address, material]);
  const behind: Behind = useMemo(
    () => ({
      studentId,
      told: Object.fromEntries(
        material.incidents.map(({ incidentId, on, at, period }) => [
          incidentId,
          `${shortDateWithYear(on)} ${at ? timeOfDay(at) : (period ?? "")}`.trim(),
        ]),
      ),
    }),
    [material, studentId],
  );
  const planCards = useMemo(
    () =>
      plans
        .filter(({ state }) => state === "kept")
        .map((plan) => {
          const within = choice.from < plan.beginsOn && plan.beginsOn <= choice.to;
          const around = within ? choosePatterns(material, { ...choice, compare: plan }).comparison : null;
          return { ...plan, changed: around && changeWords(around.rates) };
        }),
    [plans, material, choice],
  );
  const { n, rate, silent, bins, labels, lengths } = patterns;
  const tables = patternTables(patterns, { size: choice.bins, strengthWords: strengths, comparison });
  const fold = (name: string, title: string, open = false) => (
    <TableFold name={name} title={title} table={tables[name] ?? noTable} behind={behind} open={open} />
  );
  const every = (of: (one: (typeof material.incidents)[number]) => readonly string[]) =>
    [...new Set(material.incidents.flatMap(of))].sort();
  return (
    <section aria-label="Patterns" className="py-5">
      <div className="flex flex-wrap items-center gap-3">
        <StudentTitle title="Patterns" className="font-serif text-xl font-semibold" />
        <span className="text-fine text-soft">
          {dateWithYear(choice.from)} to {dateWithYear(choice.to)}
          {[...choice.behaviors, ...choice.settings].map((one) => ` · ${one}`)}
        </span>
        <Link className="btn btn-plain no-print ml-auto" to={`/students/${studentId}/incidents`}>
          Incidents
        </Link>
      </div>
      <ChooseForm
        studentId={studentId}
        choice={choice}
        plans={material.plans}
        reporting={material.reporting ?? []}
        behaviors={every(({ behaviors }) => behaviors)}
        settings={every(({ setting }) => (setting === null ? [] : [setting]))}
      />
      <FormProblem>{actionData?.problems && Object.values(actionData.problems)[0]}</FormProblem>
      {n === 0 ? (
        <EmptyState title="No incident in this span">
          <p>
            {rate
              ? `${rate.days} school days were observed without such an incident.`
              : "There was no school day in this span."}
          </p>
        </EmptyState>
      ) : (
        <Findings
          patterns={patterns}
          behind={behind}
          noted={noted}
          mayNote={mayNote}
          file={`patterns.csv?${new URLSearchParams([...search, ["table", "incidents"]]).toString()}`}
        />
      )}
      {comparison && n + comparison.before.n > 0 ? (
        <PatternChange
          choice={choice}
          comparison={comparison}
          table={tables["change"] ?? noTable}
          behind={behind}
        />
      ) : null}
      {n > 0 ? (
        <>
          <section aria-labelledby="how-often" className="mt-6 border-t border-base-300 pt-4">
            <h2 id="how-often" className="font-serif text-lg font-semibold">
              How often
            </h2>
            <p className="mt-1">
              {rate
                ? `${n} ${plural(n, "incident")} in ${rate.days} observed school days: ${rateWords(rate)}.`
                : "No observed school day."}
              {silent > 0
                ? ` ${silent} of these days ${silent === 1 ? "has no record and counts" : "have no record and count"} as 0.`
                : ""}
            </p>
            <TimePicture bins={bins} size={choice.bins} plans={material.plans} behind={behind} />
            {fold("time", `Incidents by ${choice.bins}`)}
          </section>
          <section aria-labelledby="when" className="later mt-6 border-t border-base-300 pt-4">
            <h2 id="when" className="font-serif text-lg font-semibold">
              When
            </h2>
            <IncidentWeek patterns={patterns} behind={behind} />
            {fold("week", "Incidents by period and weekday")}
          </section>
          <div className="later mt-6 grid gap-x-10 gap-y-6 border-t border-base-300 pt-4 sm:grid-cols-2">
            {aspectTitles.map(([aspect, title]) => (
              <Bars key={aspect} title={title} counted={labels[aspect]} behind={behind}>
                {labels[aspect].length > 0 ? fold(aspect, title) : null}
              </Bars>
            ))}
            <Bars
              title="Duration"
              said={lengths.known > 0 ? totalWords(lengths.total) : "Not recorded"}
              counted={lengths.bands}
              behind={behind}
            >
              {fold("length", "Duration")}
            </Bars>
            <Bars
              title="Intensity"
              counted={patterns.strengths}
              behind={behind}
              words={(label) => `${label}: ${strengths[Number(label) - 1] ?? ""}`}
            >
              {fold("strength", "Intensity")}
            </Bars>
          </div>
          <section aria-labelledby="with-what" className="later mt-6 border-t border-base-300 pt-4">
            <h2 id="with-what" className="font-serif text-lg font-semibold">
              What occurs together
            </h2>
            {patterns.pairs.length === 0 ? (
              <p className="text-soft">No two labels went together clearly.</p>
            ) : (
              fold("pairs", "Pairs of labels, with their counts, phi and p", true)
            )}
            {patterns.chains.length > 0 ? (
              <>
                <h2 className="mt-4 font-serif text-lg font-semibold">Most frequent chains</h2>
                {fold("chains", "Chains of antecedent, behavior, and consequence", true)}
              </>
            ) : null}
          </section>
        </>
      ) : null}
      <Plans
        studentId={studentId}
        plans={planCards}
        mayPlan={mayPlan}
        chosen={typeof choice.compare === "string" ? null : choice.compare.planId}
      />
    </section>
  );
}
