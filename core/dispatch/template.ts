import type { MessageKind } from "./message-kinds.ts";

/** What a template can have filled in. */
export const mergeFields = [
  ...(["reader", "school", "student", "goal", "what", "by", "on", "days"] as const),
  ...(["code", "link", "words"] as const),
] as const;
export type MergeField = (typeof mergeFields)[number];

/** A subject of one line, and a text whose paragraphs are set apart by empty lines. Fields stand in brackets: `[student]`. */
export interface MessageTemplate {
  subject: string;
  text: string;
}

/** What each kind can have filled in, and what it cannot do without. */
interface FieldsOfKind {
  fields: readonly MergeField[];
  needs: readonly MergeField[];
}
const usual: FieldsOfKind = { fields: ["reader", "school", "student", "what", "link"], needs: ["link"] };
const withGoal: FieldsOfKind = { ...usual, fields: [...usual.fields, "goal"] };
const recorded: FieldsOfKind = { ...usual, fields: [...usual.fields, "by", "on"] };

export const fieldsOfKind: Readonly<Record<MessageKind, FieldsOfKind>> = {
  invitation: { fields: ["reader", "school", "on", "link"], needs: ["link", "on"] },
  reset: { fields: ["reader", "school", "link"], needs: ["link"] },
  code: { fields: ["reader", "school", "code"], needs: ["code"] },
  test: { fields: ["reader", "school"], needs: [] },
  harm: recorded,
  entry: { ...recorded, fields: [...recorded.fields, "goal"] },
  incident: recorded,
  jot: recorded,
  finding: withGoal,
  edition: { ...usual, fields: [...usual.fields, "by", "on"] },
  due: { fields: ["reader", "school", "what", "link"], needs: ["what", "link"] },
  statement: withGoal,
  question: usual,
  answer: usual,
  held: usual,
  digest: { fields: ["reader", "school", "days", "what", "link"], needs: ["what", "link"] },
  ask: usual,
  receipt: { fields: ["reader", "school", "what", "link"], needs: ["what"] },
  words: { fields: ["reader", "school", "student", "words", "link", "by"], needs: ["words"] },
  feedback: { fields: ["reader", "school", "student", "words", "by", "link"], needs: ["words"] },
};

/** These are too long for a line, or must not be read on a locked screen. */
const textOnly: ReadonlySet<MergeField> = new Set(["link", "code", "words", "days"]);

/** What is wrong with a template, in words for whoever writes it; none where it can be saved. */
export type TemplateProblems = Partial<Record<keyof MessageTemplate, string>>;

const inBrackets = /\[([^[\]\n]*)\]/g;
const named = (fields: readonly string[]) => fields.map((field) => `[${field}]`).join(", ");

function problemOf(
  part: keyof MessageTemplate,
  written: string,
  { fields, needs }: FieldsOfKind,
): string | undefined {
  const allowed = part === "subject" ? fields.filter((field) => !textOnly.has(field)) : fields;
  const used = [...written.matchAll(inBrackets)].map(([, name = ""]) => name);
  const unknown = used.find((name) => !allowed.some((field) => field === name));
  if (unknown !== undefined)
    return textOnly.has(unknown as MergeField) && fields.includes(unknown as MergeField)
      ? `[${unknown}] can only be in the text, not in the subject.`
      : `[${unknown}] is not a field of this message. There are ${named(allowed)}.`;
  if (/[[\]]/.test(written.replace(inBrackets, "")))
    return "A bracket is open or closed alone. Write fields as [student].";
  if (part === "subject") return /[\r\n]/.test(written) ? "The subject is one line." : undefined;
  const missing = needs.filter((field) => !used.includes(field));
  return missing.length > 0 ? `The text needs ${named(missing)}.` : undefined;
}

/**
 * Checks a template before it is saved: every field is known for its kind and allowed where it is, and what the kind cannot do without is there.
 */
export function templateProblems(kind: MessageKind, { subject, text }: MessageTemplate): TemplateProblems {
  const [ofSubject, ofText] = [
    subject.trim() === "" ? "Write a subject." : problemOf("subject", subject, fieldsOfKind[kind]),
    text.trim() === "" ? "Write the text." : problemOf("text", text, fieldsOfKind[kind]),
  ];
  return { ...(ofSubject ? { subject: ofSubject } : {}), ...(ofText ? { text: ofText } : {}) };
}

/** What a person may have filled in in words of their own. */
export const writtenFields: readonly MergeField[] = ["reader", "student", "school", "link"];

/** The same for words of a person's own, which stand within the template `words`. */
export const writtenProblems = ({ subject, text }: MessageTemplate): TemplateProblems => {
  const asked = { fields: writtenFields, needs: [] };
  const [ofSubject, ofText] = [
    subject.trim() === "" ? "Write a subject." : problemOf("subject", subject, asked),
    text.trim() === "" ? "Write the message." : problemOf("text", text, asked),
  ];
  return { ...(ofSubject ? { subject: ofSubject } : {}), ...(ofText ? { text: ofText } : {}) };
};

/** What is filled in. */
export type MergeValues = Readonly<Partial<Record<MergeField, string>>>;

/**
 * Fills a template. What is filled in is never read as a field again, and line ends in it cannot start a second header: a subject stays one line.
 *
 * @throws Error where a field has no value: a message never has an empty space in its place
 */
export function fillTemplate(
  kind: MessageKind,
  { subject, text }: MessageTemplate,
  values: MergeValues,
): MessageTemplate {
  const fill = (written: string) =>
    written.replace(inBrackets, (_, name: string) => {
      const value = values[name as MergeField];
      if (value === undefined || value.trim() === "") throw new Error(`${kind}: no value for [${name}]`);
      return value;
    });
  return { subject: fill(subject).replaceAll(/\s+/g, " ").trim(), text: fill(text).trim() };
}

/** The paragraphs of a text, each with its lines. */
export const paragraphsOf = (text: string): string[][] =>
  text
    .split(/\n\s*\n/)
    .map((paragraph) => paragraph.split("\n").map((line) => line.trim()))
    .map((lines) => lines.filter(Boolean))
    .filter((lines) => lines.length > 0);
