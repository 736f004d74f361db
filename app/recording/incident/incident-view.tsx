import type { IncidentDraft } from "#core/sync/kept.ts";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as newId } from "uuid";
import type { Device } from "../device/device.ts";
import { enqueue, type WaitingItem } from "../device/queue.ts";
import { rightTime } from "../right-time.ts";
import { enqueueTakingBack } from "../take-back.tsx";
import { HolderButton } from "../sitting/holder.tsx";
import { localDay } from "#core/dates/school-time.ts";
import { writingInTurn } from "../device/in-turn.ts";
import { useNow } from "../sitting/use-sitting.ts";
import {
  type IncidentFacts,
  type IncidentItem,
  isBlank,
  itemOfDraft,
  keepIncidentDraft,
  likeDraft,
  newDraft,
  readIncidentDraft,
} from "./draft.ts";
import { missingFacts } from "#core/incidents/missing-facts.ts";
import { IncidentFields } from "./incident-fields.tsx";
import { SavedIncidents } from "./incident-saved.tsx";
import { WhoseView } from "./whose-view.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { focusHeading, say } from "#app/ui/say.ts";

/** Writing an incident down, with or without a network; what is half written is on the disk. */
export function IncidentView({
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
  const navigate = useNavigate();
  const now = rightTime(useNow(true, 20_000), device.kept.clockAhead);
  const [draft, setDraft] = useState<IncidentDraft | null>(null);
  const [saved, setSaved] = useState<readonly IncidentItem[]>([]);
  const [last, setLast] = useState<IncidentDraft | null>(null);
  const [problem, setProblem] = useState("");
  const [restored, setRestored] = useState(false);
  const [writing] = useState(writingInTurn);
  const begun = useRef(false);
  useEffect(() => {
    // Runs once: restores the draft. A fresher pack of the same person does not replace it.
    if (begun.current) return;
    begun.current = true;
    void readIncidentDraft(device).then((kept) => {
      setDraft(kept ?? newDraft(asked, Date.now()));
      setRestored(kept !== null);
    });
  }, [device, asked]);
  const show = (next: IncidentDraft) => {
    setDraft(next);
    writing.write(() => keepIncidentDraft(device, next));
  };
  if (!draft) return null;
  const student = pack.students.find(({ studentId }) => studentId === draft.studentId);
  const begin = (next: IncidentDraft) => {
    setProblem("");
    setRestored(false);
    show(next);
  };
  async function save(from: IncidentDraft): Promise<void> {
    const item = itemOfDraft(device, from, Date.now());
    if (!item) {
      setProblem("Say what the student did: touch at least one.");
      return;
    }
    await writing.done();
    await enqueue(device, [item]);
    setSaved([item, ...saved]);
    setLast(from);
    setDraft(newDraft(null, Date.now()));
    setProblem("");
    send();
    scrollTo({ top: 0 });
    focusHeading();
  }
  async function undo(latest: IncidentItem, from: IncidentDraft): Promise<void> {
    const again = { ...from, incidentId: newId() };
    await keepIncidentDraft(device, again);
    await enqueueTakingBack(device, [latest]);
    setSaved(saved.filter((one) => one !== latest));
    begin(again);
    send();
    say("Undone: not saved, and open again.");
  }
  const missing = missingFacts(draft.details.harm, pack.incidents.harmAsked);
  const running = draft.clock !== null && draft.clock.stoppedAt === null;
  return (
    <div className="mx-auto w-full max-w-6xl pb-28">
      <header className="sitting-head mb-3">
        <PageTitle title="Incident" className="font-serif text-[1.7rem] font-semibold max-sm:text-xl" />
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
          <SavedIncidents
            {...{ device, saved, waiting }}
            onSend={send}
            onUndo={async (latest) => {
              if (last) await undo(latest, last);
            }}
          />
          {last?.studentId ? (
            <p className="mt-3 mb-4 flex flex-wrap gap-2">
              <button
                type="button"
                className="btn btn-plain h-11"
                onClick={() => begin(likeDraft(last, Date.now()))}
              >
                Another like this
              </button>
              <button
                type="button"
                className="btn btn-plain h-11"
                onClick={() => begin(newDraft(last.studentId, Date.now()))}
              >
                Another of {pack.students.find(({ studentId }) => studentId === last.studentId)?.screenName}
              </button>
              <Link to={`/students/${last.studentId}/incidents`} className="btn btn-primary h-11">
                Done
              </Link>
            </p>
          ) : null}
        </>
      ) : null}
      {student ? (
        <form
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
            <p className="mb-2 rounded-lg bg-arrival px-4 py-2" role="status">
              This one was begun before and not saved. Go on with it, or start over below.
            </p>
          ) : null}
          <IncidentFields
            facts={draft}
            student={student}
            school={pack}
            now={now}
            onChange={(part: Partial<IncidentFacts>) => {
              setProblem("");
              show({ ...draft, ...part });
            }}
          />
          <div className="save-bar">
            <button type="submit" className="btn btn-primary h-12 px-8">
              {running ? "Save, still going on" : "Save"}
            </button>
            {isBlank(draft) ? null : (
              <button
                type="button"
                className="btn btn-plain h-12"
                onClick={() =>
                  begin(newDraft(restored && asked !== null ? asked : draft.studentId, Date.now()))
                }
              >
                Start over
              </button>
            )}
            <p role="alert" className="font-bold text-error empty:hidden">
              {problem}
            </p>
            <p className="text-fine empty:hidden" role="status">
              {missing.length > 0
                ? `Facts missing: ${missing.join("; ")}. Saved, it stays on Today until they are written.`
                : ""}
            </p>
            <p className="text-fine text-soft max-sm:hidden">Ctrl + Enter saves.</p>
          </div>
        </form>
      ) : (
        <WhoseView
          device={device}
          on={localDay(pack.timeZone, now)}
          onChoose={(studentId) =>
            begin({
              ...draft,
              studentId,
              began: isBlank(draft) ? { as: "moment", at: Date.now() } : draft.began,
            })
          }
          waiting={waiting}
          onSend={send}
        />
      )}
    </div>
  );
}
