import { v7 as newId } from "uuid";
import { hashPassword } from "#server/auth/password.ts";
import { canonicalContent, sha256Of } from "#server/db/editions.ts";
import type { OpenDatabase } from "./database.ts";
import type { DemoIds } from "./demo-school.ts";
import { keep, recordedItem } from "./recorded.ts";
import type { Visitor } from "./session.ts";

/** One thing of every kind that an address names, most of them Wren's: what is not in the demo is made. By the names of parameters. */
export async function routeIds(
  db: OpenDatabase,
  demo: DemoIds,
  lead: Visitor,
): Promise<Record<string, string>> {
  const [entry] = await db
    .owner<{ entry_id: string; goal_id: string }>("entries")
    .where({ goal_id: demo.goal("Wren", "2b") })
    .limit(1);
  const [incident] = await db
    .owner<{ incident_id: string; student_id: string }>("incidents")
    .where({ student_id: demo.student("Wren") })
    .limit(1);
  const [picture] = await db
    .owner<{ picture_id: string; jot_id: string; student_id: string }>("pictures")
    .where({ student_id: demo.student("Wren") })
    .limit(1);
  const [guardian] = await db
    .owner<{ guardian_id: string; name: string }>("guardians")
    .where({ name: "Lena Abara" });
  const [period] = await db.owner<{ from_on: string }>("reporting_periods").orderBy("from_on").limit(1);
  const ids: Record<string, string> = {
    from: period?.from_on ?? "",
    studentId: demo.student("Wren"),
    goalId: demo.goal("Wren", "2b"),
    entryId: entry?.entry_id ?? "",
    noteId: newId(),
    observationId: newId(),
    incidentId: incident?.incident_id ?? "",
    planId: newId(),
    patternId: newId(),
    decisionId: newId(),
    editionId: newId(),
    disclosureId: newId(),
    packetId: newId(),
    ...{ messageId: newId(), batchId: newId(), roundId: newId() },
    jotId: picture?.jot_id ?? "",
    pictureId: picture?.picture_id ?? "",
    audience: "family",
    ...{ personId: demo.person("teo").personId, token: "x".repeat(43) },
    guardianId: guardian?.guardian_id ?? "",
  };
  const made = recordedItem(demo);
  await keep(lead, { ...made, id: ids["noteId"], kind: "not measured", reason: "refused" });
  await keep(lead, { ...made, id: ids["observationId"], kind: "second", withSittingId: null });
  const about = { school_id: demo.schoolId, student_id: demo.student("Wren") };
  const author_id = demo.person("noor").personId;
  await db.owner("plans").insert({
    ...{ ...about, author_id, plan_id: ids["planId"], name: "subtraction first" },
    ...{ thinking: "Wren cannot see the end", trying: "a strip", begins_on: "2026-10-01" },
  });
  await db.owner("pattern_notes").insert({
    ...{ ...about, author_id, note_id: ids["patternId"], words: "Wren in all of them", strength: "weak" },
    ...{ from_on: "2026-09-01", to_on: "2026-11-01", noted_on: "2026-11-01" },
  });
  await db.owner("goal_decisions").insert({
    ...{ ...about, author_id, decision_id: ids["decisionId"], goal_id: ids["goalId"] },
    ...{ kind: "keep going", decided_on: "2026-11-01", reason: "Wren asked to" },
  });
  const content = canonicalContent({
    format: 1,
    document: {
      ...{ language: "en", audience: "team", span: { from: null, to: "2026-11-01" }, order: "time" },
      ...{ title: "Wren Abara", called: "Running report", head: "W.A.", facts: [], sections: [] },
    },
  });
  await db.owner("editions").insert({
    ...{ ...about, person_id: author_id, edition_id: ids["editionId"], number: 9, audience: "team" },
    ...{ language: "en", to_on: "2026-11-01", made_on: "2026-11-01", changes: {}, content },
    sha256: sha256Of(content),
  });
  await db.owner("disclosures").insert({
    ...{ ...about, person_id: author_id, disclosure_id: ids["disclosureId"], format: "text" },
    ...{ audience: "team", language: "en", to_on: "2026-11-01", recipient: "the district", content },
  });
  const packet = { school_id: demo.schoolId, packet_id: ids["packetId"] };
  await db.owner("packets").insert({
    ...{ ...packet, person_id: author_id, recipient: "families", students: 1, state: "done" },
    choice: JSON.stringify({
      ...{ of: "reports", audience: "family", span: { from: null, to: "2026-11-01" }, rubric: "" },
      ...{ title: "Reports of Wren’s group", form: "one", oddPages: false },
    }),
    ...{ file_name: "reports.pdf", file_type: "application/pdf", file_size: 4 },
  });
  await db
    .owner("packet_reports")
    .insert({ ...packet, student_id: demo.student("Wren"), place: 1, state: "made", content });
  await db.owner("packet_pieces").insert({ ...packet, place: 1, content: Buffer.from("Wren") });
  await db.owner("message_batches").insert({
    ...{ school_id: demo.schoolId, batch_id: ids["batchId"], person_id: author_id },
    choice: JSON.stringify({ title: "About Wren", what: "words", out: [], count: 1 }),
  });
  await db.owner("messages").insert({
    ...{ ...about, message_id: ids["messageId"], kind: "words", guardian_id: ids["guardianId"] },
    ...{ batch_id: ids["batchId"], state: "sent", subject: "About Wren", to_address: "w@home.example" },
    over_at: new Date(),
  });
  await db.owner("message_texts").insert({ ...about, message_id: ids["messageId"], body: "Wren reads well" });
  await db.owner("feedback_rounds").insert({
    ...{ ...about, person_id: author_id, round_id: ids["roundId"], title: "Wren’s picture strip" },
    ...{ prompts: JSON.stringify(["What works?", "What next?"]), to_guardian_id: ids["guardianId"] },
  });
  return { ...ids, schoolId: demo.schoolId };
}

/** Another school on the same server, whose case manager has accounts and students of her own. */
export async function otherSchool(db: OpenDatabase): Promise<void> {
  const [school_id, person_id, account_id] = [newId(), newId(), newId()];
  await db.owner("schools").insert({ school_id, name: "Elsewhere", time_zone: "UTC" });
  await db
    .owner("people")
    .insert({ school_id, person_id, given_name: "Ada", family_name: "Elsewhere", role: "administrator" });
  await db.owner("gate.accounts").insert({
    account_id,
    email: "lead@elsewhere.example",
    password_hash: await hashPassword("a school elsewhere"),
  });
  await db.owner("gate.memberships").insert({ account_id, school_id, person_id });
}
