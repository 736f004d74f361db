import type { Page } from "@playwright/test";
import { type DeviceSample, idsOf, readDeviceSample } from "../tests/device-sample.ts";
import { expect, recording, settled, signIn, test } from "./site.ts";

/**
 * Makes the disk of this browser as the first version of the program made it, sealed with this person's key. The stores are written out
 * here as they were then: made by the program, they would change with it.
 */
function makeFirstVersion(page: Page, sample: DeviceSample, personId: string): Promise<void> {
  return page.evaluate(
    async ({ packs, sittings, sheets, queue, personId }) => {
      const deviceId = crypto.randomUUID();
      const answer = await fetch("/recording/pack", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ deviceId, name: "an earlier version" }),
      });
      const { key: base64 } = (await answer.json()) as { key: string };
      const raw = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
      const key = await crypto.subtle.importKey("raw", raw, "AES-GCM", false, ["encrypt", "decrypt"]);
      const seal = async (value: unknown) => {
        const iv = crypto.getRandomValues(new Uint8Array(12));
        const plain = new TextEncoder().encode(JSON.stringify(value));
        return { iv, bytes: await crypto.subtle.encrypt({ name: "AES-GCM", iv }, key, plain) };
      };
      const sealed = {
        packs: await Promise.all(
          Object.entries(packs).map(
            async ([place, one]) => [await seal(one), place ? `${personId} ${place}` : personId] as const,
          ),
        ),
        sittings: await Promise.all(
          sittings.map(async (one) => [{ personId, sealed: await seal(one) }, one.sittingId] as const),
        ),
        sheets: await Promise.all(
          sheets.map(async (one) => ({
            ...{ personId, sittingId: one.sittingId, goalId: one.goal.goalId },
            sealed: await seal(one),
          })),
        ),
        queue: await Promise.all(
          queue.map(async (one) => ({ personId, sealed: await seal(one), refused: null })),
        ),
      };
      await new Promise<void>((resolve, reject) => {
        indexedDB.deleteDatabase("gentle-margin");
        const opening = indexedDB.open("gentle-margin", 1);
        opening.onupgradeneeded = () => {
          const disk = opening.result;
          disk.createObjectStore("meta");
          disk.createObjectStore("keys");
          disk.createObjectStore("packs");
          disk.createObjectStore("sittings");
          disk
            .createObjectStore("sheets", { keyPath: ["sittingId", "goalId"] })
            .createIndex("bySitting", "sittingId");
          disk.createObjectStore("queue", { autoIncrement: true });
        };
        opening.onerror = () => reject(new Error("the disk was not made"));
        opening.onsuccess = () => {
          const disk = opening.result;
          const stores = ["meta", "keys", "packs", "sittings", "sheets", "queue"];
          const trx = disk.transaction(stores, "readwrite");
          trx.objectStore("meta").put(deviceId, "device");
          trx.objectStore("meta").put(personId, "person");
          trx.objectStore("keys").put(key, personId);
          for (const [value, place] of sealed.packs) trx.objectStore("packs").put(value, place);
          for (const [value, place] of sealed.sittings) trx.objectStore("sittings").put(value, place);
          for (const sheet of sealed.sheets) trx.objectStore("sheets").put(sheet);
          for (const item of sealed.queue) trx.objectStore("queue").add(item);
          trx.oncomplete = () => {
            disk.close();
            resolve();
          };
        };
      });
    },
    { ...sample, personId },
  );
}

/** What stands on the disk beside what is sealed: its version, and the format number of each thing. */
const numbersOf = (page: Page) =>
  page.evaluate(
    () =>
      new Promise<{ version: number; formats: Record<string, unknown[]> }>((resolve) => {
        const opening = indexedDB.open("gentle-margin");
        opening.onsuccess = () => {
          const disk = opening.result;
          const stores = ["packs", "sittings", "sheets", "queue"];
          const trx = disk.transaction(stores);
          const formats: Record<string, unknown[]> = {};
          for (const store of stores) {
            const all = trx.objectStore(store).getAll();
            all.onsuccess = () => {
              formats[store] = (all.result as { format?: unknown }[]).map(({ format }) => format);
            };
          }
          trx.oncomplete = () => {
            disk.close();
            resolve({ version: disk.version, formats });
          };
        };
      }),
  );

test("what a device of the first version kept is all there: what waited is sent, and the rest goes on", async ({
  page,
  site,
}) => {
  const sample = readDeviceSample(idsOf(site.demo));
  const [waiting] = sample.queue;
  await signIn(page, "noor");
  // A page without scripts of ours: nothing else opens the disk meanwhile.
  await page.goto("/ready");
  await makeFirstVersion(page, sample, site.demo.person("noor").personId);
  // The server of this test has never heard of the tally; until it says so, what is on the disk stands.
  await page.route("**/recording/now", (route) => route.abort());
  await page.goto("/record");
  await recording(page);
  const sent = () =>
    site.owner("entries").where({ entry_id: waiting?.id }).select("numerator", "denominator");
  await expect.poll(sent).toEqual([{ numerator: 3, denominator: 4 }]);
  await expect
    .poll(() => numbersOf(page))
    .toEqual({
      version: 2,
      formats: { packs: [1, 1, 1], sittings: [1], sheets: [1, 1], queue: [] },
    });

  await page.getByRole("link", { name: "Go on" }).click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  await expect(page.getByText("of 2 so far", { exact: true })).toBeVisible();
  await expect(page.getByText("of 1 so far", { exact: true })).toBeVisible();
  await page.keyboard.press("1");
  await settled(page);

  await page.goto("/record?tally=day");
  await expect(page.getByText("2 counted", { exact: true })).toBeVisible();
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await expect(page.getByRole("button", { name: "shouting", exact: true }).first()).toHaveAttribute(
    "aria-pressed",
    "true",
  );
});
