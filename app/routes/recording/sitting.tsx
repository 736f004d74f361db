import { lazy, Suspense, useEffect, useEffectEvent, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Device } from "#app/recording/device/device.ts";
import type { Reach } from "#app/recording/device/reach.ts";
import { setShowsNames, showsNames } from "#app/recording/device/device.ts";
import { isWriting } from "#app/recording/device/in-turn.ts";
import { enqueue, hasUnkept, isStuck, listWaiting, sendWaiting } from "#app/recording/device/queue.ts";
import { useTogether } from "#app/recording/device/use-together.ts";
import { loadPads } from "#app/measures/loaded-pads.tsx";
import { HolderButton, loadHolderSheet } from "#app/recording/sitting/holder.tsx";
import { loadNotTaken, QueueNote } from "#app/recording/sitting/queue-note.tsx";
import { noSchoolToday } from "#app/recording/right-time.ts";
import { ReviewView } from "#app/recording/sitting/review-view.tsx";
import type { SavedSitting } from "#app/recording/sitting/saved-view.tsx";
import { queuedFrom } from "#app/recording/sitting/sheet.ts";
import { loadAddGoals, SittingView } from "#app/recording/sitting/sitting-view.tsx";
import { StartView } from "#app/recording/sitting/start-view.tsx";
import { openSitting, type SittingStore, takeSitting } from "#app/recording/sitting/store.ts";
import { useDevice } from "#app/recording/sitting/use-device.ts";
import { useKeys } from "#app/ui/keys.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

/** Screens of their own, each loaded by itself: who counts trials does not wait for them. */
const loadIncident = () => import("#app/recording/incident/incident-view.tsx");
const Incident = lazy(() => loadIncident().then(({ IncidentView }) => ({ default: IncidentView })));
const loadJot = () => import("#app/recording/jot/jot-view.tsx");
const Jot = lazy(() => loadJot().then(({ JotView }) => ({ default: JotView })));
const loadSaved = () => import("#app/recording/sitting/saved-view.tsx");
const Saved = lazy(() => loadSaved().then(({ SavedView }) => ({ default: SavedView })));
const loadLock = () => import("#app/recording/sitting/lock-view.tsx");
const Locked = lazy(() => loadLock().then(({ LockView }) => ({ default: LockView })));
const loadNoSitting = () => import("#app/recording/sitting/no-sitting.tsx");
const NoSitting = lazy(() => loadNoSitting().then(({ NoSitting }) => ({ default: NoSitting })));
const loadTally = () => import("#app/recording/sitting/tally-view.tsx");
const Tally = lazy(() => loadTally().then(({ TallyView }) => ({ default: TallyView })));

/** The browser asks before it closes a page while something is not on the disk yet, or the disk does not take it. */
function useAskBeforeClosing(unwritten: () => boolean): void {
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (unwritten()) event.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [unwritten]);
}

/** An open sitting: its panels, its review, and what it became. */
function OpenSitting({
  device,
  store,
  onSaved,
}: {
  device: Device;
  store: SittingStore;
  onSaved: (saved: SavedSitting) => void;
}) {
  const [reviewedAt, setReviewedAt] = useState<number | null>(null);
  const [saving, setSaving] = useState(false);
  const [shownFirst, setShownFirst] = useState<string | null>(null);
  useAskBeforeClosing(store.unwritten);
  async function save(at = Date.now()): Promise<void> {
    setSaving(true);
    const sitting = store.sitting();
    const lines = store.sheets().flatMap((sheet) => {
      const item = queuedFrom(sheet, sitting, at, device.kept.clockAhead);
      return item ? [{ item, sheet, at }] : [];
    });
    await store.settled();
    await enqueue(
      device,
      lines.map(({ item }) => item),
      sitting,
    );
    store.close();
    onSaved({ sitting, sheets: store.sheets(), lines });
  }
  return reviewedAt === null ? (
    <SittingView
      device={device}
      store={store}
      shownFirst={shownFirst}
      onReview={() => setReviewedAt(Date.now())}
      onSave={() => void save()}
    />
  ) : (
    <ReviewView
      store={store}
      now={reviewedAt}
      noSchool={noSchoolToday(device)}
      saving={saving}
      onBack={(goalId) => {
        setShownFirst(goalId);
        setReviewedAt(null);
      }}
      onSave={() => void save(reviewedAt)}
    />
  );
}

function Opened({
  device,
  reach,
  waiting,
  send,
  look,
  setReach,
}: Omit<ReturnType<typeof useDevice>, "opened"> & { device: Device; reach: Reach }) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const sittingId = search.get("sitting");
  const together = useTogether(device, setReach);
  const [found, setFound] = useState<{ sittingId: string; store: SittingStore | "elsewhere" | null } | null>(
    null,
  );
  const [saved, setSaved] = useState<SavedSitting | null>(null);
  // The sitting belongs to the person: a fresher pack of the same person does not open it again.
  const { personId } = device;
  const openHere = useEffectEvent((id: string) => openSitting(device, id));
  useEffect(() => {
    if (sittingId === null) return;
    let current = true;
    let letGo: (() => void) | null = null;
    async function open(id: string): Promise<void> {
      letGo = await takeSitting(id);
      if (!current) letGo?.();
      const [store] = await Promise.all([letGo ? openHere(id) : ("elsewhere" as const), loadPads()]);
      void loadSaved();
      if (current) setFound({ sittingId: id, store });
    }
    void open(sittingId);
    return () => {
      current = false;
      letGo?.();
    };
  }, [personId, sittingId]);

  const store = found?.store;
  useEffect(() => {
    if (store && store !== "elsewhere") store.showAs(device.pack);
  }, [store, device.pack]);

  const note = <QueueNote device={device} waiting={waiting} reach={reach} onSend={send} />;
  if (saved && saved.sitting.sittingId === sittingId)
    return (
      <>
        {note}
        <Saved device={device} saved={saved} waiting={waiting} onSend={send} />
      </>
    );
  const Written = search.has("incident") ? Incident : search.has("jot") ? Jot : null;
  if (Written)
    return (
      <>
        {note}
        <Written
          device={device}
          asked={search.get("incident") || search.get("jot") || null}
          waiting={waiting}
          send={send}
        />
      </>
    );
  if (search.has("tally"))
    return (
      <>
        <Tally device={device} together={together} />
        {note}
      </>
    );
  if (sittingId === null)
    return (
      <>
        <header className="sitting-head mx-auto mb-4 w-full max-w-4xl">
          <PageTitle title="Start a sitting" />
          <HolderButton device={device} />
          <label className="ml-auto flex min-h-11 items-center gap-2 text-fine text-soft">
            <input
              type="checkbox"
              className="size-5 accent-primary"
              defaultChecked={showsNames()}
              onChange={({ target }) => {
                setShowsNames(target.checked);
                location.reload();
              }}
            />
            Show names{showsNames() && reach !== "online" ? " (needs a connection)" : ""}
          </label>
          <Link to="/record?incident" className="btn btn-plain h-11">
            Incident
          </Link>
          <Link to="/record?jot" className="btn btn-plain h-11">
            Jot
          </Link>
          <Link to="/record?tally=day" className="btn btn-plain h-11">
            All-day tallies{together.tallies.length > 0 ? ` (${together.tallies.length})` : ""}
          </Link>
          <Link to="/caseload" className="btn btn-plain h-11">
            Caseload
          </Link>
        </header>
        {note}
        <StartView device={device} together={together} />
      </>
    );
  if (found?.sittingId !== sittingId) return <title>Recording · Gentle Margin</title>;
  if (found.store === "elsewhere") return <NoSitting why="elsewhere" />;
  if (!found.store)
    return (
      <>
        {note}
        <NoSitting why="not here" />
      </>
    );
  return (
    <>
      {waiting.some((one) => one.refused !== null || one.place < 0 || isStuck(one)) || reach === "signed out"
        ? note
        : null}
      <OpenSitting
        device={device}
        store={found.store}
        onSaved={(done) => {
          const [line, ...more] = done.lines;
          // One entry, and the server at hand: on to the goal's page, where the line arrives in the margin.
          if (reach === "online" && line?.item.kind === "entry" && more.length === 0) {
            const { studentId, goalId, id } = line.item;
            void sentThen(() => navigate(`/students/${studentId}/goals/${goalId}?saved=${id}`), id).then(
              (on) => {
                if (!on) void showSaved(done);
              },
            );
          } else void showSaved(done);
        }}
      />
    </>
  );

  /** Reads the queue first, so that the screen does not say "in the report" of something that still waits. */
  async function showSaved(done: SavedSitting): Promise<void> {
    await look();
    setSaved(done);
  }

  /** Waits a moment for the queue to be rid of this item. */
  async function sentThen(go: () => void | Promise<void>, id: string): Promise<boolean> {
    for (let tries = 0; tries < 40; tries += 1) {
      const reached = await sendWaiting(device);
      if (!(await listWaiting(device)).some(({ item }) => item.id === id)) {
        await go();
        return true;
      }
      if (reached !== "busy") return false;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    return false;
  }
}

/** The help of the screen, behind one key: it is loaded when it is asked for. */
const Help = lazy(() => import("#app/ui/help.tsx"));

const isUnkept = () => isWriting() || hasUnkept();

/** The recording page. It needs no answer of the server before it can be used, so that it works without a network. */
export default function SittingPage() {
  const { opened, ...rest } = useDevice();
  useAskBeforeClosing(isUnkept);
  const [hydrated, setHydrated] = useState(false);
  const [help, setHelp] = useState(false);
  useKeys({ "?": () => setHelp(true) });
  useEffect(() => {
    setHydrated(true);
    // Before they are needed: what a newer version of the program took away could not be loaded later.
    for (const load of [
      ...[loadPads, loadIncident, loadJot, loadTally, loadNotTaken, loadHolderSheet],
      ...[loadAddGoals, loadLock, loadNoSitting],
    ])
      void load();
  }, []);
  return (
    <main
      id="page"
      className="flex min-h-dvh w-full flex-col px-4 pt-1"
      data-ready={(hydrated && opened.state !== "opening") || undefined}
    >
      {opened.state === "opening" ? <title>Recording · Gentle Margin</title> : null}
      <noscript>
        <p className="mt-10">
          Sittings need scripts, which this browser has switched off. Single observations can be typed from a
          goal’s page.
        </p>
      </noscript>
      <Suspense fallback={<title>Recording · Gentle Margin</title>}>
        {opened.state === "open" ? (
          <Opened device={opened.device} reach={opened.reach} {...rest} />
        ) : opened.state === "locked" ? (
          <Locked />
        ) : opened.state === "keeps nothing" ? (
          <NoSitting why={opened.state} />
        ) : opened.state === "nobody" ? (
          <NoSitting
            why={opened.reach === "signed out" || opened.reach === "online" ? "signed out" : "no connection"}
          />
        ) : null}
      </Suspense>
      {help ? (
        <Suspense>
          <Help letterKeys={null} onClose={() => setHelp(false)} />
        </Suspense>
      ) : null}
    </main>
  );
}
