import { describe, expect, it } from "vitest";
import { readBody } from "./read-body.ts";

const send = (
  type: string | null,
  body: BodyInit | null,
  path = type === "application/json" ? "/recording/keep" : "/a",
) =>
  readBody(
    new Request(`http://x${path}`, {
      method: "POST",
      body,
      headers: type === null ? {} : { "Content-Type": type },
    }),
  );
async function read(type: string | null, body: BodyInit | null): Promise<Request> {
  const answer = await send(type, body);
  if (!(answer instanceof Request)) throw new Error(answer.text);
  return answer;
}
const statusOf = async (type: string | null, body: BodyInit | null) => {
  const answer = await send(type, body);
  return answer instanceof Request ? 200 : answer.status;
};
const urlencoded = "application/x-www-form-urlencoded";

describe("what is sent", () => {
  it("comes through as it was", async () => {
    const form = await (
      await read(`${urlencoded};charset=UTF-8`, "a=1&b=caf%C3%A9%20%F0%9F%91%8D&a=2")
    ).formData();
    expect([...form]).toEqual([
      ["a", "1"],
      ["b", "café 👍"],
      ["a", "2"],
    ]);
    const many = new FormData();
    many.append("note", "two\nlines\tand a tab");
    many.append("file", new File(["\u0000raw"], "a.bin"));
    const back = await (await read(null, many)).formData();
    expect(back.get("note")).toMatch(/^two\r?\nlines\tand a tab$/);
    expect(await (back.get("file") as File).text()).toBe("\u0000raw");
    expect(await (await read("application/json", '{"a":[1,null,"x"]}')).json()).toEqual({
      a: [1, null, "x"],
    });
  });

  it("loses what no database keeps: control characters, and halves of characters", async () => {
    expect((await (await read(urlencoded, "a=x%00y%07z%0A")).formData()).get("a")).toBe("xyz\n");
    const json = String.raw`{"k\u0000":{"deep":["a\u0000b\ud800c","\u001b[1m"]}}`;
    expect(await (await read("application/json", json)).json()).toEqual({
      k: { deep: ["ab\ufffdc", "[1m"] },
    });
  });

  it("is refused with words where it is malformed or of another kind", async () => {
    expect(await statusOf("application/json", '{"a":')).toBe(400);
    expect(await statusOf("multipart/form-data", "a=1")).toBe(400);
    expect(await statusOf("multipart/form-data; boundary=x", "--y\r\nbroken")).toBe(400);
    for (const type of ["text/plain", "application/xml", "image/png", "constructor", "application/jsonp"])
      expect([type, await statusOf(type, "a=1")]).toEqual([type, 415]);
    // A form where a device sends JSON, and the other way round.
    expect(await send("application/json", "{}", "/a")).toMatchObject({ status: 415 });
    expect(await send(urlencoded, "a=1", "/recording/keep")).toMatchObject({ status: 415 });
  });
});
