import { useCallback, useEffect, useRef, useState } from "react";
import type { RecordingStatus } from "#app/routes/recording/recording-status.ts";
import type { OpenTally } from "#core/sync/kept.ts";
import { rightTime } from "../right-time.ts";
import { localDay } from "#core/dates/school-time.ts";
import { listOpenSittings } from "../sitting/store.ts";
import { type TallyItem, withAnswer, withItem, withKept } from "../tallies-here.ts";
import { type Device, holderWords, onDisk } from "./device.ts";
import type { Reach } from "./reach.ts";
import { deviceId, write } from "./disk.ts";
import { writingInTurn } from "./in-turn.ts";
import { post, withField } from "./post.ts";
import { reachOf } from "./reach.ts";
import { talliesPlace } from "./places.ts";
import { enqueue, listWaiting } from "./queue.ts";
import { sealAs, unsealAs } from "./seal.ts";
import { v7 as newId } from "uuid";

const isSame = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

const askEvery = 10_000;

/** What goes on beyond this screen: the all-day tallies, and the sittings of others. */
export interface Together {
  tallies: readonly OpenTally[];
  sittings: RecordingStatus["sittings"];
  record: (item: TallyItem) => void;
}

/** Tells the server which sittings are open here, hears what else goes on, and keeps the tallies on the disk. */
export function useTogether(device: Device, onReach: (reach: Reach) => void): Together {
  const { key, personId } = device;
  const [tallies, setTallies] = useState<readonly OpenTally[]>([]);
  const [sittings, setSittings] = useState<RecordingStatus["sittings"]>([]);
  const latest = useRef(tallies);
  const [writing] = useState(writingInTurn);
  /** Everything recorded since this page was opened. */
  const recorded = useRef<TallyItem[]>([]);
  const said = useRef({ device, onReach });
  useEffect(() => {
    said.current = { device, onReach };
  });
  const show = useCallback((next: readonly OpenTally[]) => {
    latest.current = next;
    setTallies(next);
  }, []);
  useEffect(() => {
    let current = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    async function ask(): Promise<void> {
      clearTimeout(timer);
      if (document.visibilityState === "visible") {
        const { device: open } = said.current;
        // What is recorded from here on may miss the list of what waits; what was recorded before is in it once it is written.
        const before = recorded.current.length;
        await writing.done();
        const waiting = (await listWaiting(open)).map(({ item }) => item);
        const here = (await listOpenSittings(open).catch(() => [])).filter(({ second }) => !second);
        const answer = await post(
          "/recording/now",
          {
            deviceId: await onDisk(open, (disk) => deviceId(disk, newId)).catch(() => newId()),
            open: here.map(({ sittingId, startedAt, students }) => ({
              sittingId,
              startedAt: new Date(startedAt).toISOString(),
              goals: students.flatMap(({ studentId, goalIds }) =>
                goalIds.map((goalId) => ({ studentId, goalId })),
              ),
            })),
          },
          withField<RecordingStatus | { kind: string }>("tallies", "kind"),
        );
        if (!current) return;
        if (answer.kind === "said" && "tallies" in answer.body) {
          const { sittings: heard } = answer.body;
          setSittings((known) => (isSame(known, heard) ? known : heard));
          const next = withAnswer(latest.current, answer.body.tallies, [
            ...waiting,
            ...recorded.current.slice(before),
          ]);
          if (!isSame(next, latest.current)) {
            show(next);
            writing.write(async () => {
              const kept = await sealAs("tallies", key, latest.current);
              await onDisk(open, (disk) =>
                write(disk, ["packs"], (trx) => [trx.objectStore("packs").put(kept, talliesPlace(personId))]),
              );
            });
          }
        }
        said.current.onReach(reachOf(answer));
      }
      timer = setTimeout(() => void ask(), askEvery);
    }
    const now = () => void ask();
    void (async () => {
      const row = await onDisk(said.current.device, (disk) =>
        disk.get("packs", talliesPlace(personId)),
      ).catch(() => undefined);
      const kept = row && (await unsealAs("tallies", key, row));
      if (!current) return;
      if (kept) show(withKept(latest.current, kept));
      await ask();
    })();
    document.addEventListener("visibilitychange", now);
    window.addEventListener("online", now);
    return () => {
      current = false;
      clearTimeout(timer);
      document.removeEventListener("visibilitychange", now);
      window.removeEventListener("online", now);
    };
  }, [key, personId, show, writing]);
  const record = useCallback(
    (item: TallyItem) => {
      const { device: open } = said.current;
      const at = rightTime(Date.parse(item.observedAt), item.clockAhead);
      const on = localDay(open.pack.timeZone, at);
      recorded.current.push(item);
      show(withItem(latest.current, item, { on, at, by: holderWords(open) }));
      writing.write(async () =>
        enqueue(open, [item], { tallies: await sealAs("tallies", open.key, latest.current) }),
      );
    },
    [show, writing],
  );
  return { tallies, sittings, record };
}
