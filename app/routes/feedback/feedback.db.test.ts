import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { openSending } from "#tests/sending.ts";
import * as go from "../dispatch/go.ts";
import * as list from "./feedback.tsx";
import * as one from "./one-feedback.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let out: Awaited<ReturnType<typeof openSending>>;
const callers = {} as Record<"noor" | "teo" | "ines" | "mirela", Caller>;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  out = await openSending(db, demo.schoolId);
  await out.atAnyTime();
  for (const key of ["noor", "teo", "ines", "mirela"] as const) callers[key] = await caller(db.app, key);
});
afterAll(async () => {
  await out.stop();
  await db.close();
});

const idOf = (key: "noor" | "teo" | "ines" | "mirela") => demo.person(key).personId;
const wren = () => ({ studentId: demo.student("Wren") });

/** Asks Teo and Ines about something for Mirela. Answers with the round. */
function ask(more: Record<string, string> = {}) {
  const roundId = newId();
  const form = new URLSearchParams({
    ...{ roundId, title: "The picture strip", to: `person ${idOf("mirela")}` },
    ...{ prompt1: "What works?", prompt2: "What next?", ...more },
  });
  for (const key of ["teo", "ines"] as const) form.append("asked", idOf(key));
  return { roundId, to: callers.noor.send(list.action, form as never, wren()) };
}

describe("feedback", () => {
  it("is asked of the circle, answered by each for themselves, and read by who leads it alone", async () => {
    const before = (await out.rows({ kind: "ask" })).length;
    const { roundId, to } = ask();
    expect(await leadsTo(to)).toBe(`/students/${wren().studentId}/feedback/${roundId}`);
    await out.deliver();
    const asked = await out.rows({ kind: "ask" });
    expect(asked).toHaveLength(before + 2);
    expect(out.mailbox.messages.find(({ to: address }) => address === emailOf(people.teo))?.subject).toBe(
      "W.A.: your feedback is wanted",
    );
    const mine = asked.find(({ person_id }) => person_id === idOf("teo"));
    expect(await leadsTo(callers.teo.load(go.loader, { messageId: mine?.message_id ?? "" }))).toBe(
      `/students/${wren().studentId}/feedback/${roundId}`,
    );
    const at = { ...wren(), roundId };
    const answer = (who: keyof typeof callers, answer0: string, answer1 = "") =>
      callers[who].send(one.action, { intent: "answer", answer0, answer1 }, at);
    expect((await problemsOf(answer("teo", " "))).problems["answer0"]).toContain("at least one");
    await leadsTo(answer("teo", "She takes it alone"));
    await leadsTo(answer("teo", "She takes it by herself", "A second strip [at home]"));
    await leadsTo(answer("ines", "Words beside the pictures"));
    await expect(answer("mirela", "Thanks")).rejects.toMatchObject({ init: { status: 404 } });
    await expect(callers.mirela.load(one.loader, at)).rejects.toMatchObject({ init: { status: 404 } });
    expect((await callers.ines.load(one.loader, at)).round).toMatchObject({
      ...{ answers: [], own: ["Words beside the pictures", ""] },
    });
    expect((await callers.noor.load(one.loader, at)).round.answers.map(({ name }) => name)).toEqual([
      "T. Brandvold",
      "I. Okafor",
    ]);
    expect((await callers.mirela.load(list.loader, wren())).rounds).toEqual([]);
  });

  it("goes out once, as the case manager put it together, with names looked at first", async () => {
    const { roundId, to } = ask();
    await leadsTo(to);
    const at = { ...wren(), roundId };
    await leadsTo(callers.teo.send(one.action, { intent: "answer", answer0: "As Caspian Doyle’s does" }, at));
    await leadsTo(callers.ines.send(one.action, { intent: "answer", answer0: "The pictures [all]" }, at));
    const send = (
      intent: string,
      more: Record<string, string> = {},
      include: readonly string[] = [idOf("teo"), idOf("ines")],
    ) => {
      const form = new URLSearchParams({
        ...{ intent, subject: "The picture strip", order: "by name", names: "none", ...more },
      });
      for (const id of include) form.append("include", id);
      return callers.noor.send(one.action, form as never, at);
    };
    expect((await problemsOf(send("send", {}, []))).problems["form"]).toBe("No answer is ticked.");
    expect((await problemsOf(send("send"))).problems["names"]).toContain("“Caspian Doyle");
    const preview = await send("preview", { names: "initials" }, [idOf("ines")]);
    expect(preview).toMatchObject({ preview: "What works?\n• The pictures [all] (I.O.)" });
    await expect(
      callers.teo.send(one.action, { intent: "send", subject: "x", order: "mixed", names: "none" }, at),
    ).rejects.toMatchObject({ init: { status: 403 } });
    const before = out.mailbox.messages.length;
    await leadsTo(send("send", {}, [idOf("ines")]));
    expect((await problemsOf(send("send", {}, [idOf("ines")]))).problems["form"]).toContain("sent already");
    await out.deliver();
    const mail = out.mailbox.messages.slice(0, out.mailbox.messages.length - before);
    const toMirela = mail.filter(({ to: address }) => address === emailOf(people.mirela));
    expect(toMirela).toHaveLength(1);
    expect(toMirela[0]?.subject).toBe("The picture strip");
    expect(toMirela[0]?.text).toContain("• The pictures [all]\n");
    expect(toMirela[0]?.text).not.toMatch(/Okafor|Brandvold|I\.O\./);
    expect(
      await problemsOf(callers.teo.send(one.action, { intent: "answer", answer0: "Late" }, at)),
    ).toMatchObject({ status: 409 });
  });

  it("is not asked of anybody outside the circle, nor sent to them", async () => {
    const outside = demo.person("gus").personId;
    expect((await problemsOf(ask({ to: `person ${outside}` }).to)).problems["to"]).toBe(
      "Choose who gets it.",
    );
    const form = new URLSearchParams({
      ...{ roundId: newId(), title: "x", to: `person ${idOf("teo")}`, asked: outside },
      ...{ prompt1: "a", prompt2: "b" },
    });
    const answer = callers.noor.send(list.action, form as never, wren());
    expect((await problemsOf(answer)).problems["asked"]).toBe("Choose at least one person.");
  });
});
