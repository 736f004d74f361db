import { writeFileSync } from "node:fs";
import { getPriority, setPriority } from "node:os";

/** A third of the weight of what serves pages: behind it, and not without an end on a machine that is never idle. */
const behindNice = 5;

/**
 * Puts a process behind everything else on the machine. Linux weighs whole sessions against each other before it looks at single
 * processes, so a session of the process's own is put behind as well.
 *
 * @param pid a process that leads a session of its own
 */
export function putBehind(pid: number, nice = behindNice): void {
  try {
    setPriority(pid, nice);
    writeFileSync(`/proc/${pid}/autogroup`, String(nice));
  } catch {
    // Where the system does not allow it or weighs otherwise, it is as urgent as everything else.
  }
}

/** Puts a process that this one started as far behind as this one is. */
export function behindToo(pid: number): void {
  const nice = getPriority();
  if (nice > 0) putBehind(pid, nice);
}
