import type { Holder, KeptPack } from "#core/sync/pack.ts";
import { v7 as newId } from "uuid";
import { observerWords } from "#core/words/observer-words.ts";
import { fillBlanks, studentBlank } from "#core/goal-wording/blanks.ts";
import type { PackAnswer } from "#app/routes/recording/pack.ts";
import type { RecordingPack } from "#core/sync/pack.ts";
import { post, withField } from "./post.ts";
import type { KeptLock } from "#core/sync/device-lock.ts";
import { lockAfter, overdue } from "./idle.ts";
import { type Reach, reachOf } from "./reach.ts";
import { deviceId, lockHere, type OpenDisk, openDisk, renewDeviceId, write } from "./disk.ts";
import { importKey, sealAs, unsealAs } from "./seal.ts";

/** This device, opened by one person. */
export interface Device {
  /** Another one once the browser has closed it: what is written goes through `onDisk`. */
  disk: OpenDisk;
  key: CryptoKey;
  personId: string;
  kept: KeptPack;
  /** The pack as this screen shows it: students by alias or initials, or by name where their person wants that. */
  pack: RecordingPack;
  /** How the device is guarded; undefined until the server has said so. */
  lock: KeptLock | undefined;
}

const namesKeptAs = "gentle-margin names";

/** Do recording screens in this browser show names? */
export function showsNames(): boolean {
  return localStorage.getItem(namesKeptAs) === "shown";
}

export function setShowsNames(shown: boolean): void {
  if (shown) localStorage.setItem(namesKeptAs, "shown");
  else localStorage.removeItem(namesKeptAs);
}

/** Puts into every text how the student is called on this screen. */
function shownPack(pack: RecordingPack): RecordingPack {
  const names = showsNames();
  return {
    ...pack,
    students: pack.students.map((student) => {
      const shown = names ? student.calledName : student.screenName;
      const fill = (text: string) => fillBlanks(text, { [studentBlank]: shown });
      return {
        ...student,
        screenName: shown,
        goals: student.goals.map((goal) => ({
          ...goal,
          title: fill(goal.title),
          wording: fill(goal.wording),
          strategy: fill(goal.strategy),
        })),
      };
    }),
  };
}

const day = 86_400_000;

/** Takes the key of its person from a disk whose time is over: until the PIN brings it back, or, after too many days, until sign-in. */
async function shut(disk: OpenDisk, personId: string, lock: KeptLock): Promise<boolean> {
  const age = Date.now() - lock.since;
  const isOld = age > lock.days * day || age < -day;
  if (!isOld && !lock.shut && (!lock.sealed || overdue() < 0)) return false;
  await write(disk, ["keys", "meta"], (trx) => [
    trx.objectStore("keys").delete(personId),
    isOld && !lock.over
      ? trx.objectStore("meta").delete("lock")
      : trx.objectStore("meta").put(JSON.stringify({ ...lock, shut: true }), "lock"),
  ]);
  return true;
}

/** What is here of the person who last signed in on this device; null where it is locked, too. */
export async function openKept(disk: OpenDisk): Promise<Device | null> {
  const personId = await disk.get("meta", "person");
  const lock = await lockHere(disk);
  if (!personId || (lock && (await shut(disk, personId, lock)))) return null;
  const [key, row] = await Promise.all([disk.get("keys", personId), disk.get("packs", personId)]);
  const kept = key && row ? await unsealAs("pack", key, row) : null;
  return key && kept ? { disk, key, personId, kept, pack: shownPack(kept.pack), lock } : null;
}

/** The pack without names of students: those are shown while the server knows the person as signed in. */
async function putPack(disk: OpenDisk, { key, personId, kept }: Device): Promise<void> {
  const students = kept.pack.students.map((one) => ({ ...one, calledName: one.screenName }));
  const row = await sealAs("pack", key, { ...kept, pack: { ...kept.pack, students } });
  await write(disk, ["packs"], (trx) => [trx.objectStore("packs").put(row, personId)]);
}

/** Its person's key, and how the device is guarded. */
export async function putPerson(disk: OpenDisk, { key, personId, lock }: Device): Promise<void> {
  await write(disk, ["keys", "meta"], (trx) => [
    trx.objectStore("keys").put(key, personId),
    trx.objectStore("meta").put(personId, "person"),
    ...(lock ? [trx.objectStore("meta").put(JSON.stringify(lock), "lock")] : []),
  ]);
}

/** The disk opened anew, with its person's key and pack where it was emptied. It stays closed to a person who is not the last one here. */
async function reopened(device: Device): Promise<OpenDisk> {
  const disk = await openDisk();
  const last = await disk.get("meta", "person");
  if (last !== undefined && last !== device.personId) {
    disk.close();
    throw new Error("another person records on this device now");
  }
  await putPerson(disk, device);
  await putPack(disk, device);
  device.disk = disk;
  return disk;
}

/** Does something on the disk of a device. Where the browser has closed it, or cleared it meanwhile, on one that is opened anew. */
export async function onDisk<T>(device: Device, work: (disk: OpenDisk) => Promise<T>): Promise<T> {
  try {
    return await work(device.disk);
  } catch (error) {
    if (!(error instanceof DOMException && error.name === "InvalidStateError")) throw error;
    return work(await reopened(device));
  }
}

/** What only spares a touch the next time is not missed where the disk does not take it. */
export const keepPack = (device: Device): Promise<void> =>
  onDisk(device, (disk) => putPack(disk, device)).catch(() => undefined);

/** Remembers which goals were chosen for these students, for their next sitting. */
export function rememberChosen(device: Device, chosen: Record<string, string[]>): Promise<void> {
  Object.assign(device.kept.chosen, chosen);
  return keepPack(device);
}

/** How long a hand-over by PIN lasts, ms; the server uses the same. */
const holdFor = 12 * 3_600_000;

/** Who records on this device now; null for the signed-in person. */
export function holderOf({ kept }: Device): Holder | null {
  return kept.holder && Date.now() - kept.holder.since < holdFor ? kept.holder : null;
}

/** Who records on this device now, in the words that stand beside what they record. */
export function holderWords(device: Device): string {
  const { name } = device.pack.person;
  const holder = holderOf(device);
  return holder ? observerWords(holder.name, holder.handoverId === null ? name : null) : name;
}

const holderListeners = new Set<() => void>();
export const tellHolder = (): void => holderListeners.forEach((call) => call());

/** Calls back when somebody took the device over. */
export function onHolderChange(call: () => void): () => void {
  holderListeners.add(call);
  return () => holderListeners.delete(call);
}

/** Loaded where somebody leaves the device, or another comes. */
const loadLeave = () => import("./leave.ts");

/** Fetches the key and the pack of the signed-in person from the server and stores them. */
async function openFresh(disk: OpenDisk, here: Device | null, again = true): Promise<Device | Reach> {
  const sentAt = Date.now();
  const device = await deviceId(disk, newId);
  const before = await lockHere(disk);
  const answer = await post(
    "/recording/pack",
    { deviceId: device, wrong: before?.wrong },
    withField<PackAnswer>("pack", "forgotten"),
  );
  if (answer.kind !== "said") return reachOf(answer);
  if ("forgotten" in answer.body) {
    // Told off from another device: all of it goes, and this browser starts as a new device.
    if (here) await (await loadLeave()).wipe(disk, here.personId, { unsent: true });
    await renewDeviceId(disk, device, newId);
    return again ? openFresh(disk, null, false) : "offline";
  }
  const { key: raw, pack, serverNow, lock: said } = answer.body;
  const personId = pack.person.personId;
  // Whoever was here before is gone from here; what they had not sent stays sealed until they come back.
  for (const other of await disk.getAllKeys("keys"))
    if (other !== personId) await (await loadLeave()).wipe(disk, other, { unsent: false });
  const key = await importKey(raw);
  const own = here?.personId === personId ? here.kept : { chosen: {} };
  const kept = {
    ...{ ...own, pack, packAt: serverNow },
    clockAhead: Math.round(serverNow - (sentAt + Date.now()) / 2),
  };
  const lock: KeptLock = {
    ...{
      ...said,
      name: pack.person.name,
      since: Date.now(),
      shut: false,
      tries: 0,
      wrong: 0,
      over: false,
      counted: before?.counted ?? false,
    },
    holder: (here && before?.holder) ?? null,
  };
  const opened = { disk, key, personId, kept, pack: shownPack(pack), lock };
  lockAfter(lock.sealed && lock.minutes);
  // A disk that takes nothing more keeps nobody from recording: what is saved goes straight to the server.
  await putPerson(disk, opened).catch(() => undefined);
  await keepPack(opened);
  return opened;
}

type Opened = { device: Device | null; reach: Reach } | { device: null; reach: "locked" };

let opening: { here: Promise<Device | null>; opened: Promise<Opened> } | null = null;

function beginOpening() {
  const disk = openDisk();
  const here = disk.then(openKept);
  const opened = here.then(async (kept): Promise<Opened> => {
    const there = await disk;
    const lock = await lockHere(there);
    if (lock?.shut && !(await (await import("./lock.ts")).letIn(there, lock)))
      return { device: null, reach: "locked" };
    const fresh = await openFresh(there, kept);
    const signedIn = typeof fresh === "string" ? null : fresh.personId;
    if ((signedIn || fresh === "signed out") && (await there.count("queue")) > 0)
      void import("./hand-in.ts").then((load) => load.handIn(there, signedIn)).catch(() => undefined);
    return typeof fresh === "string" ? { device: kept, reach: fresh } : { device: fresh, reach: "online" };
  });
  const over = () => {
    opening = null;
  };
  opened.then(over, over);
  return { here, opened };
}

/**
 * Opens this device for recording: from what is kept here at once, then with what the server says now. Parts of one page that open it
 * at the same time share one opening, so that a late answer to one cannot write over what was done with the other.
 */
export async function openDevice(onKept: (device: Device) => void): Promise<Opened> {
  const { here, opened } = (opening ??= beginOpening());
  const kept = await here;
  if (kept) onKept(kept);
  return opened;
}
