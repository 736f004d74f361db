import { type ReactNode, useEffect, useEffectEvent, useRef } from "react";
import { useFetcher } from "react-router";
import {
  type Audience,
  type AudienceSettings,
  type FieldName,
  fieldNames,
  type SectionName,
  sectionNames,
} from "#core/report/audience.ts";
import type { ReportDocument } from "#core/report/document.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { filledFields } from "#app/ui/filled-fields.ts";
import type { loader as previewLoader } from "./preview.ts";

const sectionWords: Record<SectionName, string> = {
  glance: "At a glance",
  goals: "Goals",
  behavior: "Behavior",
  jots: "Jots",
  log: "Entries one by one",
};
const fieldWords: Record<FieldName, string> = {
  statements: "Progress statements that are ready",
  standing: "How each goal is going",
  figures: "Baseline and latest",
  chart: "Chart",
  changes: "What changed",
  decisions: "Decisions",
  parts: "What the result is made of",
  raters: "Raters side by side",
  notes: "Notes of entries and jots",
  pictures: "Pictures",
  "team only": "Team-only notes",
};

function Ticks<Name extends string>({
  legend,
  prefix,
  names,
  words,
  chosen,
}: {
  legend: string;
  prefix: string;
  names: readonly Name[];
  words: Record<Name, string>;
  chosen: readonly Name[];
}) {
  return (
    <fieldset>
      <legend className="font-bold">{legend}</legend>
      {names.map((name) => (
        <label key={name} className="flex min-h-8 cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            className="size-4.5 accent-primary"
            name={`${prefix} ${name}`}
            defaultChecked={chosen.includes(name)}
          />
          {words[name]}
        </label>
      ))}
    </fieldset>
  );
}

function OneOf({
  legend,
  name,
  options,
  chosen,
}: {
  legend: string;
  name: string;
  options: readonly (readonly [value: string, words: string])[];
  chosen: string;
}) {
  return (
    <fieldset>
      <legend className="font-bold">{legend}</legend>
      <p className="flex flex-wrap gap-x-4">
        {options.map(([value, words]) => (
          <label key={value} className="flex min-h-8 cursor-pointer items-center gap-2">
            <input
              type="radio"
              className="size-4.5 accent-primary"
              name={name}
              value={value}
              defaultChecked={value === chosen}
            />
            {words}
          </label>
        ))}
      </p>
    </fieldset>
  );
}

/** What an audience cannot be shown, whatever is chosen. */
const leftOut = (audience: Audience): readonly FieldName[] =>
  audience === "team" || audience === "file" ? [] : ["team only"];

/** How reports read for an audience, with a student's real report beside it that follows each choice. */
export function AudienceForm({
  audience,
  settings,
  studentId,
  first,
  draft,
  busy,
  save,
  more,
  above,
}: {
  audience: Audience;
  settings: AudienceSettings;
  /** Whose report is shown beside; null where this person leads no student. */
  studentId: string | null;
  /** The report as it reads with what is saved. */
  first: ReportDocument | null;
  draft: string;
  busy: boolean;
  /** What the button says. */
  save: string;
  /** Another button. */
  more: ReactNode;
  above?: ReactNode;
}) {
  const preview = useFetcher<typeof previewLoader>();
  const form = useRef<HTMLDivElement>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const show = () => {
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      const shown = form.current?.querySelector("form");
      if (!shown || studentId === null) return;
      const chosen = filledFields(shown).toString();
      void preview.load(`/students/${studentId}/audiences/${audience}/preview?${chosen}`);
    }, 150);
  };
  const showFirst = useEffectEvent(show);
  const isMissing = first === null;
  useEffect(() => {
    if (isMissing) showFirst();
  }, [isMissing]);
  const report = preview.data?.report ?? first;
  return (
    <div className="audience" ref={form} onChange={show}>
      <KeptForm draft={draft} method="post" className="grid content-start gap-4 text-[0.9375rem]" noValidate>
        {above}
        <Ticks
          legend="Sections"
          prefix="section"
          names={sectionNames}
          words={sectionWords}
          chosen={settings.sections}
        />
        <Ticks
          legend="What is shown"
          prefix="field"
          names={fieldNames.filter((name) => !leftOut(audience).includes(name))}
          words={fieldWords}
          chosen={settings.fields}
        />
        <OneOf
          legend="Staff"
          name="staff"
          options={[
            ["names", "Names"],
            ["initials", "Initials"],
            ["none", "Not named"],
          ]}
          chosen={settings.staff}
        />
        <OneOf
          legend="When"
          name="when"
          options={[
            ["times", "Day and time"],
            ["dates", "Day only"],
          ]}
          chosen={settings.when}
        />
        <OneOf
          legend="Entries read as"
          name="entries"
          options={[
            ["list", "A list"],
            ["table", "A table"],
            ["sentences", "Sentences"],
          ]}
          chosen={settings.entries}
        />
        <fieldset>
          <legend className="font-bold">Wording</legend>
          <label className="flex min-h-8 cursor-pointer items-center gap-2">
            <input
              type="checkbox"
              className="size-4.5 accent-primary"
              name="plain"
              defaultChecked={settings.plain}
            />
            Plain words, without statistics
          </label>
        </fieldset>
        <OneOf
          legend="Language"
          name="language"
          options={[
            ["en", "English"],
            ["es", "Spanish"],
          ]}
          chosen={settings.language}
        />
        <p className="text-fine text-soft">
          Notes and jots stay in the language they were written in, so a Spanish report leaves them out.
          {audience === "family" || audience === "own"
            ? " Single incidents and team-only notes are never in this report."
            : ""}
        </p>
        <SaveBar busy={busy}>{save}</SaveBar>
        {more ? <p>{more}</p> : null}
      </KeptForm>
      <section aria-label="Preview" className="audience-preview" aria-busy={preview.state !== "idle"}>
        {report && studentId !== null ? (
          <ReportSheet
            report={report}
            studentId={studentId}
            heading={<p className="text-[1.6rem] leading-tight font-semibold">{report.title}</p>}
          />
        ) : (
          <p className="p-6 text-soft">
            A student’s report is shown here for those who lead a student’s circle.
          </p>
        )}
      </section>
    </div>
  );
}
