import { randomUUID } from "node:crypto";

const patience = 30 * 60_000;

/** Asks the command that started this process for a backup. Undefined where it was started by none of ours. */
export function backUpByParent(): (() => Promise<void>) | undefined {
  if (!process.send) return undefined;
  return () =>
    new Promise((resolve, reject) => {
      const id = randomUUID();
      const end = (ok: boolean) => {
        clearTimeout(timer);
        process.off("message", heard);
        if (ok) resolve();
        else reject(new Error("the backup was not made"));
      };
      const heard = (message: { backedUp?: string; ok?: boolean }) => {
        if (message.backedUp === id) end(message.ok === true);
      };
      const timer = setTimeout(() => end(false), patience);
      process.on("message", heard);
      process.send?.({ backUp: id });
    });
}
