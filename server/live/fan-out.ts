import { log } from "../failure.ts";

/** What a notification carries: ids only. */
export interface Notice {
  school: string;
  /** Those whose record changed. */
  students: readonly string[];
  /** Those whose part in a student's circle, or whose place in the school, changed. */
  persons: readonly string[];
}

export interface Follower {
  /** The record of this student changed. */
  onChange: (studentId: string) => void;
  /** The person's own part in a circle or place in the school changed. */
  onOwnChange: () => void;
  /** Notifications may have been missed: every viewer reads again. */
  onGap: () => void;
  onClose: () => void;
}

export interface Following {
  /** From now on it hears of these students, and of no others. */
  hearOf: (studentIds: readonly string[]) => void;
  end: () => void;
}

export interface FanOut {
  /** Tells a person in a school what changes, until it is ended: first of the person alone, then of the students named. */
  follow: (schoolId: string, personId: string, follower: Follower) => Following;
  /**
   * What this process heard of a school from a moment on, of the last two minutes.
   *
   * @param since milliseconds of the epoch
   * @returns null where it may have missed something since then
   */
  heardSince: (schoolId: string, since: number) => Notice[] | null;
  hear: (notice: Notice) => void;
  /** From now on everything is heard. */
  begin: () => void;
  /** From now on notices are missed, until it begins again. */
  stop: () => void;
  close: () => void;
}

/** How long and how much of what was heard is stored, for pages that open or come back. */
const remembered = { ms: 120_000, notices: 10_000 };

/** Values under keys; of a key without values nothing stays. */
function manyUnder<Value>() {
  const map = new Map<string, Set<Value>>();
  return {
    of: (key: string): ReadonlySet<Value> => map.get(key) ?? new Set(),
    add(key: string, value: Value) {
      const set = map.get(key) ?? new Set();
      map.set(key, set.add(value));
    },
    remove(key: string, value: Value) {
      const set = map.get(key);
      set?.delete(value);
      if (set?.size === 0) map.delete(key);
    },
  };
}

/** Passes each notice to those who follow the students and persons in it, and to nobody else: their number costs nothing. */
export function openFanOut(): FanOut {
  const followers = new Set<Follower>();
  const ofStudent = manyUnder<Follower>();
  const ofPerson = manyUnder<Follower>();
  const heard: { at: number; notice: Notice }[] = [];
  /** From this moment on nothing was missed. */
  let completeFrom = Infinity;
  return {
    follow(schoolId, personId, follower) {
      followers.add(follower);
      ofPerson.add(`${schoolId} ${personId}`, follower);
      let keys: string[] = [];
      const hearOf = (studentIds: readonly string[]) => {
        for (const key of keys) ofStudent.remove(key, follower);
        keys = studentIds.map((studentId) => `${schoolId} ${studentId}`);
        for (const key of keys) ofStudent.add(key, follower);
      };
      log.debug({ open: followers.size }, "live streams");
      return {
        hearOf: (studentIds) => (followers.has(follower) ? hearOf(studentIds) : undefined),
        end() {
          hearOf([]);
          ofPerson.remove(`${schoolId} ${personId}`, follower);
          followers.delete(follower);
          log.debug({ open: followers.size }, "live streams");
        },
      };
    },
    heardSince: (schoolId, since) =>
      since < completeFrom
        ? null
        : heard.flatMap(({ at, notice }) => (at >= since && notice.school === schoolId ? notice : [])),
    hear(notice) {
      const at = Date.now();
      heard.push({ at, notice });
      while (heard.length > remembered.notices || (heard[0]?.at ?? at) < at - remembered.ms) {
        const forgotten = heard.shift();
        if (forgotten) completeFrom = Math.max(completeFrom, forgotten.at + 1);
      }
      const { school, students, persons } = notice;
      // First who may hear of what, then of what.
      for (const personId of persons)
        for (const follower of ofPerson.of(`${school} ${personId}`)) follower.onOwnChange();
      for (const studentId of students)
        for (const follower of ofStudent.of(`${school} ${studentId}`)) follower.onChange(studentId);
    },
    begin() {
      completeFrom = Date.now();
      for (const follower of followers) follower.onGap();
    },
    stop: () => void (completeFrom = Infinity),
    close() {
      for (const follower of followers) follower.onClose();
      followers.clear();
    },
  };
}
