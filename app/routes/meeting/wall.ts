import { useEffect, useRef, useState } from "react";

/** What a second screen and the wall tell each other: at which page the meeting is. Only pages of this browser hear it. */
const channelOf = (studentId: string) => `gentle-margin meeting ${studentId}`;

/** Tells the second screen where the meeting is, also when one opens later. */
export function useTellPlace(studentId: string, at: string): void {
  useEffect(() => {
    const channel = new BroadcastChannel(channelOf(studentId));
    channel.postMessage({ at });
    channel.onmessage = ({ data }: MessageEvent<{ ask?: boolean }>) => {
      if (data.ask) channel.postMessage({ at });
    };
    return () => channel.close();
  }, [studentId, at]);
}

/** Where the meeting is on the wall; null where no wall of this browser says so. */
export function useHeardPlace(studentId: string): string | null {
  const [heard, setHeard] = useState<string | null>(null);
  useEffect(() => {
    const channel = new BroadcastChannel(channelOf(studentId));
    channel.onmessage = ({ data }: MessageEvent<{ at?: string }>) => {
      if (data.at !== undefined) setHeard(data.at);
    };
    channel.postMessage({ ask: true });
    return () => channel.close();
  }, [studentId]);
  return heard;
}

/** How far a finger has to move for the next page, in pixels. */
const swiped = 60;

/** Swipes to the left and right, away from fields and dialogs. */
export function useSwipe(next: () => void, before: () => void) {
  const from = useRef<{ x: number; y: number } | null>(null);
  return {
    onTouchStart: ({ touches, target }: React.TouchEvent) => {
      const one = touches.length === 1 ? touches[0] : undefined;
      from.current =
        one && !(target as HTMLElement).closest("dialog, textarea, input, select")
          ? { x: one.clientX, y: one.clientY }
          : null;
    },
    onTouchEnd: ({ changedTouches }: React.TouchEvent) => {
      const one = changedTouches[0];
      if (!from.current || !one) return;
      const [dx, dy] = [one.clientX - from.current.x, one.clientY - from.current.y];
      if (Math.abs(dx) > swiped && Math.abs(dx) > 2 * Math.abs(dy)) (dx < 0 ? next : before)();
    },
  };
}

/** Fills the screen, where the browser can do that: asked for by a press, as browsers demand. */
export const fillScreen = (): void =>
  void document.documentElement.requestFullscreen?.().catch(() => undefined);

/** Does the page fill the screen, and turning that on and off. Who leaves the page leaves the full screen too. */
export function useFullScreen(): { isFull: boolean; can: boolean; turn: () => void } {
  const [isFull, setFull] = useState(false);
  const [can, setCan] = useState(false);
  useEffect(() => {
    const look = () => setFull(document.fullscreenElement !== null);
    setCan(document.fullscreenEnabled);
    look();
    document.addEventListener("fullscreenchange", look);
    return () => {
      document.removeEventListener("fullscreenchange", look);
      if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
    };
  }, []);
  const turn = () =>
    document.fullscreenElement ? void document.exitFullscreen().catch(() => undefined) : fillScreen();
  return { isFull, can, turn };
}
