import { v7 as newId } from "uuid";
import type { PackedStudent, RecordingPack } from "#core/sync/pack.ts";
import { type Device, holderOf, onDisk } from "../device/device.ts";
import { write } from "../device/disk.ts";
import { shown } from "../shown.ts";
import { sealAs, unsealAs } from "../device/seal.ts";
import { isTouched, newSheet } from "./sheet.ts";
import type { Sheet, Sitting } from "#core/sync/kept.ts";

/** An open sitting: its sheets, its listeners, and what is written to the disk. */
export interface SittingStore {
  sitting: () => Sitting;
  sheet: (goalId: string) => Sheet;
  sheets: () => Sheet[];
  /** Calls back when this sheet changed; `sitting` stands for the sitting itself. */
  subscribe: (goalId: string, call: () => void) => () => void;
  change: (goalId: string, make: (before: Sheet) => Sheet) => void;
  changeSitting: (make: (before: Sitting) => Sitting) => void;
  /** Names students, and words goals, as this pack does: by name only while the server knows its person as signed in. */
  showAs: (pack: RecordingPack) => void;
  /** Takes these goals of a student into the sitting; those that are in it stay as they are. */
  add: (student: PackedStudent, goalIds: readonly string[]) => void;
  /** True once everything is on the disk; false where the disk does not take it. */
  settled: () => Promise<boolean>;
  /** Does the disk take what is marked? */
  kept: () => boolean;
  /** Is something marked that is not on the disk yet? */
  unwritten: () => boolean;
  /** Writes nothing more: it is in the queue now. */
  close: () => void;
}

/** Sittings that the disk did not take when they began. */
const inMemory = new Map<string, { personId: string; sitting: Sitting; sheets: readonly Sheet[] }>();

/** After so long it is looked whether the disk takes again what it did not take. */
const writeAgainAfter = 10_000;

/** A sitting of these students and goals, on the disk before its first mark. */
export async function beginSitting(
  device: Device,
  chosen: readonly { student: PackedStudent; goalIds: readonly string[] }[],
  second: Sitting["second"] = null,
): Promise<string> {
  const sitting: Sitting = {
    sittingId: newId(),
    startedAt: Date.now(),
    students: chosen.map(({ student: { studentId, screenName }, goalIds }) => ({
      studentId,
      screenName,
      goalIds: [...goalIds],
    })),
    setting: "",
    second,
  };
  const sheets = chosen.flatMap(({ student, goalIds }) =>
    student.goals
      .filter(({ goalId }) => goalIds.includes(goalId))
      .map((goal) => newSheet(sitting.sittingId, student.studentId, goal)),
  );
  // Asks the browser not to clear what is here when it runs short of room.
  void navigator.storage?.persist?.().catch(() => undefined);
  return keepWhole(device, sitting, sheets);
}

/** Puts a whole sitting on the disk, or, where that takes nothing, holds it in this page; answers its id. */
export async function keepWhole(device: Device, sitting: Sitting, sheets: readonly Sheet[]): Promise<string> {
  await putAll(device, sitting, sheets).catch(() =>
    inMemory.set(sitting.sittingId, { personId: device.personId, sitting, sheets }),
  );
  return sitting.sittingId;
}

async function putAll(device: Device, sitting: Sitting, sheets: readonly Sheet[]): Promise<void> {
  const { key, personId } = device;
  const { sittingId } = sitting;
  const keptSitting = await sealAs("sitting", key, sitting);
  const sealed = await Promise.all(
    sheets.map(async (sheet) => ({
      sittingId,
      goalId: sheet.goal.goalId,
      personId,
      ...(await sealAs("sheet", key, sheet)),
    })),
  );
  await onDisk(device, (disk) =>
    write(disk, ["sittings", "sheets"], (trx) => [
      trx.objectStore("sittings").put({ personId, ...keptSitting }, sittingId),
      ...sealed.map((sheet) => trx.objectStore("sheets").put(sheet)),
    ]),
  );
}

const studentOf = ({ students }: RecordingPack, id: string) =>
  students.find(({ studentId }) => studentId === id);

/** A sitting with its students as a pack names them. */
const named = (sitting: Sitting, pack: RecordingPack): Sitting => ({
  ...sitting,
  students: sitting.students.map((one) => ({
    ...one,
    screenName: studentOf(pack, one.studentId)?.screenName ?? one.screenName,
  })),
});

/** The sittings this person has open on this device, the latest first. */
export async function listOpenSittings(device: Device): Promise<Sitting[]> {
  const { key, personId } = device;
  const rows = (await onDisk(device, (disk) => disk.getAll("sittings"))).filter(
    (row) => row.personId === personId,
  );
  const read = await Promise.all(rows.map((row) => unsealAs("sitting", key, row)));
  return read
    .filter((one) => one !== null)
    .map((one) => named(one, device.pack))
    .sort((a, b) => b.startedAt - a.startedAt);
}

/** Throws an open sitting away with everything on it. */
export async function discardSitting(device: Device, sittingId: string): Promise<void> {
  await onDisk(device, async (disk) => {
    const goals = await disk.getAllKeysFromIndex("sheets", "bySitting", sittingId);
    await write(disk, ["sittings", "sheets"], (trx) => [
      trx.objectStore("sittings").delete(sittingId),
      ...goals.map((goal) => trx.objectStore("sheets").delete(goal)),
    ]);
  });
}

/**
 * Takes a sitting for this tab, so that no other tab writes over its marks. Answers how to let it go, or null where another
 * tab has it and does not let go.
 */
export function takeSitting(sittingId: string, patience = 1500): Promise<(() => void) | null> {
  return new Promise((resolve) => {
    navigator.locks
      .request(
        `gentle-margin sitting ${sittingId}`,
        { signal: AbortSignal.timeout(patience) },
        () => new Promise<void>((letGo) => resolve(() => letGo())),
      )
      .catch(() => resolve(null));
  });
}

/** Opens a sitting that is on the disk; null where there is none of this person. */
export async function openSitting(device: Device, sittingId: string): Promise<SittingStore | null> {
  const { key, personId } = device;
  const held = inMemory.get(sittingId);
  if (held?.personId === personId) return storeOf(device, held.sitting, held.sheets, { kept: false });
  const row = await onDisk(device, (disk) => disk.get("sittings", sittingId));
  const sitting = row?.personId === personId ? await unsealAs("sitting", key, row) : null;
  if (!sitting) return null;
  const rows = await onDisk(device, (disk) => disk.getAllFromIndex("sheets", "bySitting", sittingId));
  const sheets = await Promise.all(rows.map((row) => unsealAs("sheet", key, row)));
  return storeOf(
    device,
    sitting,
    sheets.filter((one) => one !== null),
  );
}

function storeOf(
  device: Device,
  first: Sitting,
  sheets: readonly Sheet[],
  { kept: wasKept } = { kept: true },
): SittingStore {
  const { key, personId } = device;
  let sitting = first;
  const bySheet = new Map(sheets.map((sheet) => [sheet.goal.goalId, sheet]));
  const listeners = new Map<string, Set<() => void>>();
  const tell = (thing: string) => listeners.get(thing)?.forEach((call) => call());
  /** The sheets that are not on the disk yet. A sheet marked again while it is being written is written again. */
  const dirty = new Set<string>();
  let writing: Promise<void> | null = null;
  let failed = !wasKept;
  let over = false;
  /** The disk on which the sitting is; on another one nothing of it is yet. */
  let on = device.disk;
  const all = () => ["sitting", ...bySheet.keys()];

  async function writeOne(thing: string): Promise<void> {
    const sheet = bySheet.get(thing);
    const kept = sheet ? await sealAs("sheet", key, sheet) : await sealAs("sitting", key, sitting);
    const { sittingId } = sitting;
    await onDisk(device, (disk) =>
      write(disk, ["sittings", "sheets"], (trx) => [
        sheet
          ? trx.objectStore("sheets").put({ personId, sittingId, goalId: thing, ...kept })
          : trx.objectStore("sittings").put({ personId, ...kept }, sittingId),
      ]),
    );
  }
  async function writeDirty(): Promise<void> {
    await shown();
    while (dirty.size > 0) {
      const things = [...dirty];
      dirty.clear();
      try {
        for (const thing of things) await writeOne(thing);
        if (device.disk !== on) {
          on = device.disk;
          all().forEach((thing) => dirty.add(thing));
        } else {
          failed = false;
          inMemory.delete(sitting.sittingId);
        }
      } catch {
        // The marks live on in this tab; the screen says that the device does not keep them, and it is tried again.
        failed = true;
        things.forEach((thing) => dirty.add(thing));
        setTimeout(begin, writeAgainAfter);
        break;
      }
    }
  }
  function begin(): void {
    if (over || dirty.size === 0) return;
    writing ??= writeDirty().finally(() => {
      writing = null;
      tell("kept");
    });
  }
  function keep(thing: string): void {
    dirty.add(thing);
    begin();
  }
  if (!wasKept) {
    all().forEach((thing) => dirty.add(thing));
    setTimeout(begin, writeAgainAfter);
  }
  const sheet = (goalId: string): Sheet => {
    const found = bySheet.get(goalId);
    if (!found) throw new Error("no such goal in this sitting");
    return found;
  };
  return {
    sitting: () => sitting,
    sheet,
    sheets: () =>
      sitting.students.flatMap(({ goalIds }) => goalIds.flatMap((goalId) => bySheet.get(goalId) ?? [])),
    subscribe(thing, call) {
      const set = listeners.get(thing) ?? new Set();
      listeners.set(thing, set.add(call));
      return () => set.delete(call);
    },
    change(goalId, make) {
      const before = sheet(goalId);
      const after = make(before);
      // The observer of a sheet is whoever holds the device at its first mark, unless another was chosen.
      const { observer, ...bare } = after;
      const fresh = isTouched(before) && !isTouched(after) ? undefined : observer;
      const stamped = fresh === undefined && isTouched(after) ? holderOf(device) : fresh;
      bySheet.set(goalId, stamped === undefined ? bare : { ...bare, observer: stamped });
      tell(goalId);
      keep(goalId);
    },
    changeSitting(make) {
      sitting = make(sitting);
      tell("sitting");
      keep("sitting");
    },
    showAs(pack) {
      sitting = named(sitting, pack);
      for (const [goalId, one] of bySheet) {
        const packed = studentOf(pack, one.studentId)?.goals.find((goal) => goal.goalId === goalId);
        const { title, wording, strategy } = packed ?? one.goal;
        bySheet.set(goalId, { ...one, goal: { ...one.goal, title, wording, strategy } });
        tell(goalId);
      }
      tell("sitting");
    },
    add({ studentId, screenName, goals }, goalIds) {
      const fresh = goals.filter(({ goalId }) => goalIds.includes(goalId) && !bySheet.has(goalId));
      for (const goal of fresh) {
        bySheet.set(goal.goalId, newSheet(sitting.sittingId, studentId, goal));
        keep(goal.goalId);
      }
      const added = fresh.map(({ goalId }) => goalId);
      const isThere = sitting.students.some((one) => one.studentId === studentId);
      this.changeSitting((before) => ({
        ...before,
        students: isThere
          ? before.students.map((one) =>
              one.studentId === studentId ? { ...one, goalIds: [...one.goalIds, ...added] } : one,
            )
          : [...before.students, { studentId, screenName, goalIds: added }],
      }));
    },
    async settled() {
      await writing;
      if (dirty.size > 0) await writeDirty();
      return !failed;
    },
    kept: () => !failed,
    unwritten: () => writing !== null || dirty.size > 0,
    close() {
      over = true;
      dirty.clear();
      inMemory.delete(sitting.sittingId);
    },
  };
}
