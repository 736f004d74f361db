import { useState } from "react";
import { timeIn } from "#core/words/read-time-of-day.ts";
import { WhenFields } from "#app/ui/when-fields.tsx";
import { localMoment, localTime, momentOfLocal } from "#core/dates/school-time.ts";
import { plural } from "#core/words/numbers.ts";
import { shortDate, timeOfDay } from "#core/words/dates.ts";
import type { Device } from "../device/device.ts";
import { dropItem, type WaitingItem } from "../device/queue.ts";
import { askAgain, changeNote, sayWhen } from "../device/queue-again.ts";
import { rightTime } from "../right-time.ts";

/** "Tue, Nov 24, 10:20", at the school. */
function when(at: number, timeZone: string): string {
  const local = localMoment(timeZone, at);
  return `${shortDate(local.slice(0, 10))}, ${timeOfDay(local.slice(11, 16))}`;
}

/** What was recorded, to be copied out: every word and number of it, a line each. */
function textOf({ item }: WaitingItem, what: string): string {
  const lines = (value: unknown, name: string): string[] =>
    typeof value !== "object" || value === null
      ? value === null || value === ""
        ? []
        : [`${name}: ${typeof value === "string" ? value : JSON.stringify(value)}`]
      : Array.isArray(value) && value.every((one) => typeof one !== "object")
        ? [`${name}: ${value.join(", ")}`]
        : Object.entries(value).flatMap(([key, inner]) =>
            // What only programs read; when it was stands above.
            inner === false || /id$|At$|^(format|kind|clockAhead|measureVersion|data)$/i.test(key)
              ? []
              : lines(inner, `${name} ${key}`.trim()),
          );
  return [what, ...lines(item, "")].join("\n");
}

/** One thing that the server does not take: why, and what can be done. */
function OneItem({ device, waiting, name }: { device: Device; waiting: WaitingItem; name: string }) {
  const { item, refused, failed } = waiting;
  const { timeZone } = device.pack;
  const [note, setNote] = useState("note" in item ? (item.note ?? "") : null);
  const [copied, setCopied] = useState(false);
  const what = `${name}, ${when(rightTime(Date.parse(item.observedAt), item.clockAhead), timeZone)}`;
  const text = textOf(waiting, what);
  return (
    <li className="border-t border-base-300 py-2">
      <p>
        <b dir="auto">{name}</b>
        {what.slice(name.length)}
      </p>
      <p>
        {refused ??
          (failed
            ? `The server could not save this, ${failed.times} ${plural(failed.times, "time")} since ${when(failed.since, timeZone)}. It stays here and is tried again at ${timeOfDay(localTime(timeZone, failed.again))}. Copy it out to be safe, and contact your administrator.`
            : "")}
      </p>
      <details>
        <summary className="min-h-11 cursor-pointer py-2.5 text-soft">Read, correct or copy it …</summary>
        <pre className="font-mono text-fine break-words whitespace-pre-wrap" dir="auto">
          {text}
        </pre>
        {note === null ? null : (
          <label className="mt-2 grid gap-1 text-fine font-bold">
            Note
            <textarea
              className="textarea w-full font-normal"
              rows={2}
              maxLength={2000}
              dir="auto"
              value={note}
              onChange={({ target }) => setNote(target.value)}
            />
          </label>
        )}
        <p className="mt-2 flex flex-wrap gap-2">
          {note === null ? null : (
            <button
              type="button"
              className="btn btn-plain h-11"
              onClick={() => void changeNote(device, waiting, note)}
            >
              Send it with this note
            </button>
          )}
          <button
            type="button"
            className="btn btn-plain h-11"
            onClick={() =>
              void navigator.clipboard.writeText(text).then(
                () => setCopied(true),
                () => undefined,
              )
            }
          >
            {copied ? "Copied" : "Copy the text"}
          </button>
        </p>
      </details>
      <details>
        <summary className="min-h-11 cursor-pointer py-2.5 text-soft">Remove it from the queue …</summary>
        <p className="mb-1">It is gone from this device then. Write it down first.</p>
        <button type="button" className="btn btn-plain h-11" onClick={() => void dropItem(device, waiting)}>
          Remove it
        </button>
      </details>
    </li>
  );
}

/** Asks when what a wrong clock recorded was observed: today, or another day. */
function AskWhen({ device }: { device: Device }) {
  const { pack, kept } = device;
  const [now] = useState(() => rightTime(Date.now(), kept.clockAhead));
  const [local, setLocal] = useState(() => localMoment(pack.timeZone, now).slice(0, 16));
  const [on = "", typed = ""] = local.split("T");
  const time = timeIn(typed);
  return (
    <div className="grid gap-2 py-2">
      <p>
        <b>Recorded today?</b> The clock of this device was wrong. Say when the last of these was observed.
      </p>
      <p className="flex flex-wrap items-end gap-2">
        <button type="button" className="btn btn-plain h-11" onClick={() => void sayWhen(device, now)}>
          Yes, just now
        </button>
        <WhenFields
          label="Or on"
          name="then"
          value={local}
          onMoment={setLocal}
          max={localMoment(pack.timeZone, now).slice(0, 10)}
        />
        <button
          type="button"
          className="btn btn-plain h-11"
          disabled={on === "" || time === ""}
          onClick={() => void sayWhen(device, momentOfLocal(pack.timeZone, `${on}T${time}`))}
        >
          It was then
        </button>
      </p>
    </div>
  );
}

/** What the server does not take: why, and what to do with each. */
export default function NotTaken({ device, waiting }: { device: Device; waiting: readonly WaitingItem[] }) {
  const nameOf = ({ item }: WaitingItem) => {
    const student = device.pack.students.find(({ studentId }) => studentId === item.studentId);
    const goal = student?.goals.find(({ goalId }) => "goalId" in item && goalId === item.goalId);
    const what = goal
      ? `, ${goal.number} ${goal.title}`
      : ["incident", "jot", "picture"].includes(item.kind)
        ? `, ${item.kind}`
        : "";
    return `${student?.screenName ?? "A student you no longer record for"}${what}`;
  };
  return (
    <div className="mt-2 rounded-lg border border-warning px-4 py-2">
      <p className="flex flex-wrap items-center gap-3 font-bold text-warning">
        <span className="flex-1">Not taken by the server; still here.</span>
        <button type="button" className="btn btn-plain h-11" onClick={() => void askAgain(device)}>
          Try again
        </button>
      </p>
      {waiting.some(({ asksWhen }) => asksWhen) ? <AskWhen device={device} /> : null}
      <ul>
        {waiting.map((one) => (
          <OneItem key={one.place} device={device} waiting={one} name={nameOf(one)} />
        ))}
      </ul>
    </div>
  );
}
