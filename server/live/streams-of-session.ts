/** As many streams as the tabs of a busy person need: a browser shares one among its tabs. */
const most = 10;

const openOf = new Map<string, Set<() => void>>();

/** How many streams are open in this process. */
export const openStreams = (): number => [...openOf.values()].reduce((sum, { size }) => sum + size, 0);

/**
 * Notes a stream of a session that has opened in this process. Beyond ten the eldest is ended: a page that opens streams without end takes
 * nobody else's.
 *
 * @param session what tells one session from another
 * @param end ends the stream
 * @returns call it when the stream has ended
 */
export function noteStream(session: string, end: () => void): () => void {
  const open = openOf.get(session) ?? new Set();
  openOf.set(session, open.add(end));
  if (open.size > most) for (const eldest of [...open].slice(0, open.size - most)) eldest();
  return () => {
    open.delete(end);
    if (open.size === 0 && openOf.get(session) === open) openOf.delete(session);
  };
}
