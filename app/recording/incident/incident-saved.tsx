import { useEffect, useState } from "react";
import { v7 as newId } from "uuid";
import type { ChoiceList } from "#core/model/choice-lists.ts";
import { incidentLine } from "#core/report/incident-line.ts";
import type { PossibleDuplicates } from "#app/routes/recording/possible-duplicates.ts";
import type { NearIncident } from "#server/db/incident-lists.ts";
import type { Device } from "../device/device.ts";
import { post, withField } from "../device/post.ts";
import { enqueue, type WaitingItem } from "../device/queue.ts";
import { SavedLine } from "../saved-line.tsx";
import { Undo } from "../take-back.tsx";
import type { IncidentItem } from "./draft.ts";
import { say } from "#app/ui/say.ts";

/** The line as it will read, from what the device knows of it. */
function lineOf({ chosen, details, ongoing, note }: IncidentItem) {
  const names = Object.fromEntries(
    Object.entries(chosen).map(([list, ones]) => [list, ones.map(({ name }) => name)]),
  ) as Record<ChoiceList, string[]>;
  return incidentLine({ names, details, ongoing, note });
}

/** Another adult told of an incident at nearly the same time: is it this one? */
function SameOne({ device, item, onSend }: { device: Device; item: IncidentItem; onSend: () => void }) {
  const [near, setNear] = useState<readonly NearIncident[]>([]);
  useEffect(() => {
    let current = true;
    post(
      "/recording/near",
      { studentId: item.studentId, incidentId: item.id },
      withField<PossibleDuplicates>("near"),
    ).then(
      (said) => {
        if (current && said.kind === "said") setNear(said.body.near);
      },
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [item]);
  async function answer(other: NearIncident, same: boolean): Promise<void> {
    setNear(near.filter((one) => one !== other));
    await enqueue(device, [
      {
        ...{ format: 1, kind: "same incident", id: newId(), studentId: item.studentId },
        observedAt: new Date().toISOString(),
        clockAhead: device.kept.clockAhead,
        ...{ incidentId: item.id, otherId: other.incidentId, same },
      },
    ]);
    onSend();
  }
  return near.map((other) => (
    <div
      key={other.incidentId}
      role="group"
      aria-label="The same incident?"
      className="mt-2 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-3 py-1.5 font-sans"
    >
      <p className="flex-1">
        {other.by} wrote down one at {other.at}. Is it the same one?
      </p>
      <button type="button" className="btn btn-plain h-11" onClick={() => void answer(other, true)}>
        Yes, join the two
      </button>
      <button type="button" className="btn btn-plain h-11" onClick={() => void answer(other, false)}>
        No, two
      </button>
    </div>
  ));
}

/** What was just written down, as it will read in the report, and whether the server has it. */
export function SavedIncidents({
  device,
  saved,
  onUndo,
  waiting,
  onSend,
}: {
  device: Device;
  saved: readonly IncidentItem[];
  /** Takes the latest back. */
  onUndo: (latest: IncidentItem) => Promise<void>;
  waiting: readonly WaitingItem[];
  onSend: () => void;
}) {
  const left = new Map(waiting.map(({ item, refused }) => [item.id, refused]));
  const nameOf = (id: string) =>
    device.pack.students.find(({ studentId }) => studentId === id)?.screenName ?? "";
  const [latest] = saved;
  useEffect(() => {
    if (latest) say(`Saved: ${lineOf(latest).sentence}`);
  }, [latest]);
  return (
    <section aria-label="Incident saved" className="border-l border-rule pl-5">
      {saved.map((item) => {
        const { sentence, note } = lineOf(item);
        return (
          <SavedLine
            key={item.id}
            name={nameOf(item.studentId)}
            studentId={item.studentId}
            words={`${sentence} ${note ?? ""}`}
            state={
              !left.has(item.id)
                ? "in the report"
                : left.get(item.id)
                  ? "not taken, see above"
                  : "saved on this device"
            }
          >
            {item === latest ? (
              <Undo key={item.id} onUndo={() => onUndo(item)}>
                Undo, back to it
              </Undo>
            ) : null}
            {left.has(item.id) ? null : <SameOne device={device} item={item} onSend={onSend} />}
          </SavedLine>
        );
      })}
    </section>
  );
}
