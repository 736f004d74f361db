const keptAs = "gentle-margin signal";

/** How this device calls attention beside what is seen: nothing, a short buzz, or a soft tone. */
export type SignalWay = "seen" | "felt" | "heard";
export const signalWays: readonly SignalWay[] = ["seen", "felt", "heard"];

export function signalWay(): SignalWay {
  const kept = localStorage.getItem(keptAs);
  return signalWays.find((way) => way === kept) ?? "seen";
}

export function setSignalWay(way: SignalWay): void {
  localStorage.setItem(keptAs, way);
}

function softTone(): void {
  const audio = new AudioContext();
  const [tone, level] = [audio.createOscillator(), audio.createGain()];
  tone.frequency.value = 523;
  level.gain.setValueAtTime(0.0001, audio.currentTime);
  level.gain.exponentialRampToValueAtTime(0.08, audio.currentTime + 0.05);
  level.gain.exponentialRampToValueAtTime(0.0001, audio.currentTime + 0.45);
  tone.connect(level).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.5);
  tone.onended = () => void audio.close();
}

/** Calls attention in the way this device is set to. What is seen is the panel's own. */
export function signal(): void {
  const way = signalWay();
  if (way === "felt" && "vibrate" in navigator) navigator.vibrate(180);
  if (way === "heard") softTone();
}
