import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { v7 as newId } from "uuid";
import { beforeEach, expect, test } from "vitest";
import { deviceId, openDisk, renewDeviceId } from "./disk.ts";

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
});

/** Two tabs of one browser, each with its own connection. */
const twoTabs = () => Promise.all([openDisk(), openDisk()]);

test("two parts of a page and another tab that ask a fresh browser at once get one number", async () => {
  const [here, there] = await twoTabs();
  const asked = await Promise.all([here, here, there].map((disk) => deviceId(disk, newId)));
  expect(new Set(asked).size).toBe(1);
  expect(await here.get("meta", "device")).toBe(asked[0]);
});

test("a device told off gets one other number, however many asked under the old one", async () => {
  const [here, there] = await twoTabs();
  const old = await deviceId(here, newId);
  const renewed = await Promise.all([here, there].map((disk) => renewDeviceId(disk, old, newId)));
  expect(renewed[0]).not.toBe(old);
  expect(new Set(renewed).size).toBe(1);
  expect(await deviceId(there, newId)).toBe(renewed[0]);
});
