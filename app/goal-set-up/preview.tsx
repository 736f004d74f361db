import { useState } from "react";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { readEntry } from "#core/measures/measure.ts";
import type { EntryFigure } from "#core/progress/points.ts";
import type { GoalPhase } from "#core/model/goal.ts";
import { plannedOpportunities } from "#core/measures/planned-opportunities.ts";
import { entryLine } from "#core/report/entry-line.ts";
import { scheduleWords } from "#core/schedule/schedule.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { EntryFields } from "#app/measures/entry-fields.tsx";
import type { Values } from "#app/measures/entry-form.ts";
import { LivePanel } from "#app/measures/live-panel.tsx";
import { isCounted, rawEntry, startValues } from "#app/measures/entry-forms.ts";
import type { FieldsProps } from "#app/measures/rows.tsx";
import { ProgressChartSvg } from "#app/ui/progress-chart.tsx";
import type { SetUp } from "./set-up-values.ts";
import { usePreviewChart } from "./use-preview-chart.ts";

/** What has been recorded for the goal already, and in which phases. */
export interface PreviewRecord {
  phases: readonly GoalPhase[];
  figures: readonly EntryFigure[];
}

type Previewed = Pick<
  SetUp,
  "title" | "measure" | "criterion" | "dueOn" | "enteredBaseline" | "baselineEntries" | "schedule"
>;

/** The set-up as a sentence, its chart with the aim line, and the panel that will record it, to try out. */
export function Preview({ setUp, recorded }: { setUp: Previewed; recorded?: PreviewRecord | undefined }) {
  const { measure, criterion } = setUp;
  const [tried, setTried] = useState<{ kind: string; values: Values }>(() => ({
    kind: measure.kind,
    values: startValues(measure, ""),
  }));
  const values = tried.kind === measure.kind ? tried.values : startValues(measure, "");
  const set: FieldsProps["set"] = (name, value) =>
    setTried(({ kind, values: before }) => {
      const from = kind === measure.kind ? before : startValues(measure, "");
      return {
        kind: measure.kind,
        values: { ...from, [name]: typeof value === "function" ? value(from[name] ?? "") : value },
      };
    });
  const previewed = usePreviewChart({
    setup: {
      measure,
      criterion,
      dueOn: setUp.dueOn,
      metOn: null,
      enteredBaseline: setUp.enteredBaseline,
      baselineEntries: setUp.baselineEntries,
      phases: recorded?.phases ?? [],
    },
    figures: recorded?.figures ?? [],
  });
  const raw = rawEntry(measure, values);
  const read = raw.ok ? readEntry(measure, raw.raw) : null;
  return (
    <div className="grid gap-5">
      <p className="font-serif leading-relaxed" dir="auto">
        {criterion ? `Reached with ${criterionWords(criterion, measure)}.` : "No criterion yet."}
        {setUp.dueOn ? ` Due ${dateWithYear(setUp.dueOn)}.` : ""}
        {setUp.schedule ? ` Measured ${scheduleWords(setUp.schedule)}.` : ""}
      </p>
      {previewed === null ? (
        <p className="text-fine text-soft" role="status">
          The chart of all its points is being worked out …
        </p>
      ) : previewed.chart ? (
        <ProgressChartSvg chart={previewed.chart} description={previewed.description} />
      ) : (
        <p className="text-fine text-soft">
          The aim line appears here once there are a criterion, a baseline and a due date.
        </p>
      )}
      <div className="rounded-xl border border-base-300 p-3">
        <p className="mb-2 text-fine text-soft">This is how it is recorded. Try it; nothing here is saved.</p>
        {isCounted(measure) ? (
          <div className="mb-4">
            <LivePanel
              key={JSON.stringify(measure)}
              measure={measure}
              planned={plannedOpportunities(measure) || null}
              values={values}
              take={(counted) => Object.entries(counted).forEach(([name, value]) => set(name, value))}
            />
          </div>
        ) : null}
        <EntryFields measure={measure} values={values} problems={{}} set={set} />
        {read?.ok ? (
          <p className="mt-3 border-t border-base-300 pt-2 font-serif leading-relaxed" aria-live="polite">
            {
              entryLine(setUp.title || "The goal", { measure, entry: read.entry, score: read.score }, null)
                .sentence
            }
          </p>
        ) : null}
      </div>
    </div>
  );
}
