import { overdue, used } from "../device/idle.ts";
import { runsClock } from "./use-sitting.ts";

const longestClock = 2 * 3_600_000;

/** Locks the screen once nobody has used it for as long as the school allows. A clock that runs is use, for two hours. */
export function lockWhenUnused(): () => void {
  const look = () => {
    const late = overdue();
    if (runsClock() && late < longestClock) used(true);
    // What is not on the disk yet keeps the page, as it does when somebody closes it.
    else if (late >= 0 && dispatchEvent(new Event("beforeunload", { cancelable: true }))) location.reload();
  };
  const onUse = () => {
    look();
    used();
  };
  const timer = setInterval(look, 15_000);
  addEventListener("pointerdown", onUse);
  addEventListener("keydown", onUse);
  document.addEventListener("visibilitychange", look);
  return () => {
    clearInterval(timer);
    removeEventListener("pointerdown", onUse);
    removeEventListener("keydown", onUse);
    document.removeEventListener("visibilitychange", look);
  };
}
