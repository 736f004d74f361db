import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as newId } from "uuid";
import { jotLine } from "#core/report/jot-line.ts";
import type { JotCategory } from "#core/model/jot.ts";
import type { JotDraft } from "#core/sync/kept.ts";
import { jotsEn } from "#core/words/en/jots.ts";
import type { Device } from "../device/device.ts";
import { writingInTurn } from "../device/in-turn.ts";
import { enqueue, type WaitingItem } from "../device/queue.ts";
import { When } from "../incident/when.tsx";
import { rightTime } from "../right-time.ts";
import { SavedLine } from "../saved-line.tsx";
import { HolderButton } from "../sitting/holder.tsx";
import { useNow } from "../sitting/use-sitting.ts";
import { enqueueTakingBack, Undo } from "../take-back.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { focusHeading, say } from "#app/ui/say.ts";
import { CategoryChoice } from "./category-choice.tsx";
import {
  isBlankJot,
  itemsOfJot,
  type JotItem,
  jotProblem,
  likeJot,
  newJot,
  readJotDraft,
  writeJotDraft,
} from "./draft.ts";
import { JotPictures } from "./pictures.tsx";
import { ForTeam } from "#app/recording/for-team.tsx";

/** The line as it will read, from what the device knows of it. */
function lineOf({ categoryId, details, own, note }: JotItem, categories: readonly JotCategory[]) {
  const category = categories.find((one) => one.categoryId === categoryId);
  const at = category?.levels.findIndex(({ levelId }) => levelId === details.levelId) ?? -1;
  const level = category?.levels[at];
  return jotLine({
    category: category ?? null,
    level: level ? { ...level, step: at + 1, of: category?.levels.length ?? 0 } : null,
    ...{ own, note },
  });
}

/** Writing a jot, with or without a network; what is half written is on the disk. */
export function JotView({
  device,
  asked,
  waiting,
  send,
}: {
  device: Device;
  /** The student the address names; null where it names none. */
  asked: string | null;
  waiting: readonly WaitingItem[];
  send: () => void;
}) {
  const { pack } = device;
  const categories = pack.jotCategories ?? [];
  const navigate = useNavigate();
  const now = rightTime(useNow(true, 20_000), device.kept.clockAhead);
  const [draft, setDraft] = useState<JotDraft | null>(null);
  const [saved, setSaved] = useState<readonly JotItem[]>([]);
  const [last, setLast] = useState<JotDraft | null>(null);
  const [problem, setProblem] = useState<ReturnType<typeof jotProblem>>(null);
  const [restored, setRestored] = useState(false);
  const [writing] = useState(writingInTurn);
  const note = useRef<HTMLTextAreaElement>(null);
  const begun = useRef(false);
  useEffect(() => {
    // Runs once: restores the draft. A fresher pack of the same person does not replace it.
    if (begun.current) return;
    begun.current = true;
    void readJotDraft(device).then((left) => {
      setDraft(left ?? newJot(asked, Date.now()));
      setRestored(left !== null);
    });
  }, [device, asked]);
  const studentId = draft?.studentId ?? null;
  useEffect(() => {
    if (studentId !== null) note.current?.focus();
  }, [studentId]);
  if (!draft) return null;
  const student = pack.students.find((one) => one.studentId === draft.studentId);
  const nameOf = (id: string) => pack.students.find((one) => one.studentId === id)?.screenName ?? "";
  const show = (next: JotDraft) => {
    setProblem(null);
    setDraft(next);
    writing.write(() => writeJotDraft(device, next));
  };
  const begin = (next: JotDraft) => {
    setRestored(false);
    show(next);
  };
  async function save(from: JotDraft): Promise<void> {
    const items = itemsOfJot(device, from, Date.now());
    if (!items) {
      setProblem(jotProblem(from));
      return;
    }
    await writing.done();
    await enqueue(device, items);
    const [item] = items;
    setSaved([item, ...saved]);
    setLast(from);
    setDraft(newJot(null, Date.now()));
    say(`Saved: ${lineOf(item, categories).sentence}`);
    send();
    scrollTo({ top: 0 });
    focusHeading();
  }
  async function undo(latest: JotItem, from: JotDraft): Promise<void> {
    // The pictures were sent under their numbers: written again they are others.
    const pictures = from.pictures.map((picture) => ({ ...picture, pictureId: newId() }));
    const again = { ...from, jotId: newId(), pictures };
    await writeJotDraft(device, again);
    await enqueueTakingBack(device, [latest]);
    setSaved(saved.filter((one) => one !== latest));
    begin(again);
    send();
    say("Undone: not saved, and open again.");
  }
  const left = new Map(waiting.map(({ item, refused }) => [item.id, refused]));
  const problemOf = (field: "note" | "link" | "pictures") =>
    problem?.field === field ? problem.message : null;
  return (
    <div className="mx-auto w-full max-w-4xl pb-28">
      <header className="sitting-head mb-3">
        <PageTitle title="Jot" className="font-serif text-[1.7rem] font-semibold max-sm:text-xl" />
        {student ? (
          <button
            type="button"
            className="min-h-11 cursor-pointer rounded-lg bg-neutral px-4 font-bold text-neutral-content"
            aria-label={`${student.screenName}, change the student`}
            onClick={() => begin({ ...draft, studentId: null })}
          >
            {student.screenName}
          </button>
        ) : null}
        <HolderButton device={device} />
        <span className="ml-auto flex gap-2">
          <Link to="/record" className="btn btn-plain h-11 max-sm:hidden">
            Sittings
          </Link>
          <button type="button" className="btn btn-plain h-11" onClick={() => void navigate(-1)}>
            Back
          </button>
        </span>
      </header>
      {saved.length > 0 && !student ? (
        <>
          <section aria-label="Jot saved" className="border-l border-rule pl-5">
            {saved.map((item) => {
              const { sentence, note: words } = lineOf(item, categories);
              const sent = [item.id, ...item.details.pictures.map(({ pictureId }) => pictureId)];
              const waits = sent.filter((id) => left.has(id));
              return (
                <SavedLine
                  key={item.id}
                  name={nameOf(item.studentId)}
                  studentId={item.studentId}
                  words={[
                    sentence,
                    words,
                    item.details.pictures.length > 0
                      ? `(${jotsEn.pictures(item.details.pictures.length)})`
                      : "",
                  ]
                    .filter(Boolean)
                    .join(" ")}
                  state={
                    waits.length === 0
                      ? "in the report"
                      : waits.some((id) => left.get(id))
                        ? "not taken, see above"
                        : "saved on this device"
                  }
                >
                  {item === saved[0] && last ? (
                    <Undo key={item.id} onUndo={() => undo(item, last)}>
                      Undo, back to it
                    </Undo>
                  ) : null}
                </SavedLine>
              );
            })}
          </section>
          {last?.studentId ? (
            <p className="mt-3 mb-4 flex flex-wrap gap-2">
              <button
                type="button"
                className="btn btn-plain h-11"
                onClick={() => begin(likeJot(last, Date.now()))}
              >
                Another of {nameOf(last.studentId)}
              </button>
              <Link to={`/students/${last.studentId}/report`} className="btn btn-primary h-11">
                Done
              </Link>
            </p>
          ) : null}
        </>
      ) : null}
      {student ? (
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            void save(draft);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
              event.preventDefault();
              void save(draft);
            }
          }}
        >
          {restored ? (
            <p className="rounded-lg bg-arrival px-4 py-2" role="status">
              This jot was begun before and not saved. Go on with it, or start over below.
            </p>
          ) : null}
          <When
            facts={{ began: draft.began, clock: null }}
            school={pack}
            now={now}
            withClock={false}
            onChange={({ began }) => {
              if (began) show({ ...draft, began });
            }}
          />
          <div className="grid gap-x-8 gap-y-4 sm:grid-cols-2">
            <div>
              <label className="grid gap-1 text-fine font-bold">
                Note
                <textarea
                  ref={note}
                  className="textarea w-full text-base font-normal"
                  rows={6}
                  maxLength={2000}
                  dir="auto"
                  value={draft.note}
                  aria-describedby="jot-note-hint"
                  onChange={({ target }) => show({ ...draft, note: target.value })}
                />
              </label>
              <p id="jot-note-hint" className="text-fine text-soft">
                Appears in the report as written.
              </p>
              <names-under about={student.studentId} />
              <ForTeam
                checked={draft.teamOnly}
                onChange={({ target }) => show({ ...draft, teamOnly: target.checked })}
              />
            </div>
            <CategoryChoice
              {...{ categories, categoryId: draft.categoryId, levelId: draft.levelId, own: draft.own }}
              onChange={(part) => show({ ...draft, ...part })}
            />
          </div>
          <JotPictures
            pictures={draft.pictures}
            problem={problemOf("pictures")}
            onChange={(pictures) => show({ ...draft, pictures })}
          />
          <details open={draft.link.url !== "" || problemOf("link") !== null || undefined}>
            <summary className="min-h-11 cursor-pointer py-2.5 font-bold underline decoration-dotted underline-offset-4">
              Link as evidence
            </summary>
            <div className="grid gap-3 sm:grid-cols-2">
              <label className="grid gap-1 text-fine font-bold">
                Address
                <input
                  className="input h-11 w-full text-base font-normal"
                  type="url"
                  maxLength={1000}
                  placeholder="https://"
                  value={draft.link.url}
                  aria-invalid={problemOf("link") !== null ? true : undefined}
                  aria-describedby="jot-link-says"
                  onChange={({ target }) => show({ ...draft, link: { ...draft.link, url: target.value } })}
                />
                <span id="jot-link-says" className="text-error empty:hidden">
                  {problemOf("link")}
                </span>
              </label>
              <label className="grid gap-1 text-fine font-bold">
                What it leads to
                <input
                  className="input h-11 w-full text-base font-normal"
                  maxLength={120}
                  dir="auto"
                  value={draft.link.words}
                  onChange={({ target }) => show({ ...draft, link: { ...draft.link, words: target.value } })}
                />
              </label>
            </div>
          </details>
          <div className="save-bar">
            <button type="submit" className="btn btn-primary h-12 px-8">
              Save
            </button>
            {isBlankJot(draft) ? null : (
              <button
                type="button"
                className="btn btn-plain h-12"
                onClick={() => begin(newJot(draft.studentId, Date.now()))}
              >
                Start over
              </button>
            )}
            <p role="alert" className="font-bold text-error empty:hidden">
              {problem?.message}
            </p>
            <p className="text-fine text-soft max-sm:hidden">Ctrl + Enter saves.</p>
          </div>
        </form>
      ) : pack.students.length === 0 ? (
        <p className="py-3">
          You cannot record for any student yet. Ask a case manager to add you to a student’s circle.
        </p>
      ) : (
        <>
          <p className="mt-2 text-soft">About which student?</p>
          <ul className="mt-2 flex flex-wrap gap-2">
            {pack.students.map(({ studentId: id, screenName }) => (
              <li key={id}>
                <button
                  type="button"
                  className="min-h-12 min-w-24 cursor-pointer rounded-lg bg-neutral px-4 font-bold text-neutral-content"
                  onClick={() =>
                    begin({
                      ...draft,
                      studentId: id,
                      began: isBlankJot(draft) ? { as: "moment", at: Date.now() } : draft.began,
                    })
                  }
                >
                  <span className="sr-only">Jot about </span>
                  {screenName}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
