import { useState } from "react";
import { v7 as newId } from "uuid";
import { standingPresses } from "#core/sitting/tally.ts";
import type { OpenTally } from "#core/sync/kept.ts";
import { type Device, holderOf } from "../device/device.ts";
import type { TallyItem } from "../tallies-here.ts";
import { localTime } from "#core/dates/school-time.ts";
import { TimeInput } from "#app/ui/time-input.tsx";
import { NameSelect } from "./name-select.tsx";

type Of = Pick<OpenTally, "studentId" | "goalId">;

/** What every item of a tally says of itself. */
export function itemOf(device: Device, { studentId, goalId }: Of) {
  const holder = holderOf(device);
  return {
    format: 1 as const,
    id: newId(),
    studentId,
    goalId,
    observedAt: new Date().toISOString(),
    clockAhead: device.kept.clockAhead,
    ...(holder ? { observer: { personId: holder.personId, handoverId: holder.handoverId } } : {}),
  };
}

/** How long somebody was watching, a note, and the tally becomes one entry. */
export function TallyClosing({
  device,
  tally,
  isPast,
  record,
  onDone,
}: {
  device: Device;
  tally: OpenTally;
  /** Is it of a day before today? */
  isPast: boolean;
  record: (item: TallyItem) => void;
  onDone: (closed: boolean) => void;
}) {
  const { timeZone, settings } = device.pack;
  const times = standingPresses(tally.presses).map(({ at }) => at);
  const [from, setFrom] = useState(() => localTime(timeZone, Math.min(tally.openedAt, ...times)));
  const [to, setTo] = useState(() => {
    const end = isPast ? Math.max(tally.openedAt, ...times) : Date.now();
    return localTime(timeZone, Math.max(end, Math.min(tally.openedAt, ...times) + 60_000));
  });
  const [setting, setSetting] = useState("");
  const [note, setNote] = useState("");
  const wrong = from !== "" && to !== "" && to <= from;
  return (
    <form
      className="mt-3 grid gap-3 border-t border-base-300 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        record({
          ...itemOf(device, tally),
          kind: "tally close",
          on: tally.on,
          seenFrom: `${tally.on}T${from}`,
          seenTo: `${tally.on}T${to}`,
          setting: setting || null,
          note: note.trim() || null,
        });
        onDone(true);
      }}
    >
      <div className="grid grid-cols-2 gap-3">
        <label className="grid gap-1 text-fine font-bold">
          Watched from
          <TimeInput required className="input h-11 w-full font-normal" value={from} onTime={setFrom} />
        </label>
        <label className="grid gap-1 text-fine font-bold">
          until
          <TimeInput
            required
            className="input h-11 w-full font-normal"
            value={to}
            aria-invalid={wrong || undefined}
            aria-describedby={`until-${tally.goalId}`}
            onTime={setTo}
          />
        </label>
      </div>
      <p id={`until-${tally.goalId}`} role="alert" className="font-bold text-error empty:hidden">
        {wrong ? "The end must be after the beginning." : ""}
      </p>
      <label className="grid gap-1 text-fine font-bold">
        Setting
        <NameSelect names={settings} value={setting} onChoose={setSetting} />
      </label>
      <label className="grid gap-1 text-fine font-bold">
        Note
        <textarea
          className="textarea w-full text-base font-normal"
          rows={2}
          maxLength={2000}
          value={note}
          onChange={({ target }) => setNote(target.value)}
        />
      </label>
      <names-under about={tally.studentId} />
      <div className="flex flex-wrap gap-2">
        <button className="btn btn-primary h-12 px-6" disabled={wrong || from === "" || to === ""}>
          Save {times.length}
        </button>
        <button type="button" className="btn btn-plain h-12" onClick={() => onDone(false)}>
          Go on counting
        </button>
      </div>
    </form>
  );
}
