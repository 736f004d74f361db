import { dateWithYear } from "../dates.ts";
import { listed } from "../lists.ts";
import { inDigits, plural } from "../numbers.ts";

const counted = (n: number, one: string, many = `${one}s`) => `${inDigits(n)} ${plural(n, one, many)}`;

const hello = "Hello [reader],";
const sign = "Sign in to read it:\n\n[link]";

/** Messages: the templates of a school that has changed none, and what is filled in. A message names a student by initials. */
export const dispatchEn = {
  templates: {
    invitation: {
      subject: "[school] invites you to Gentle Margin",
      text: `${hello}

[school] uses Gentle Margin to record its students’ goals and school days, and invites you to join.

Open this page and choose a password:

[link]

The link works once, until [on]. It is for you only: please do not forward it.

If you do not work with [school], delete this message. Nothing else will happen.`,
    },
    reset: {
      subject: "Set a new password for Gentle Margin",
      text: `${hello}

A new password was requested for the account with this address. Set it here:

[link]

The link works once and expires soon. Setting a new password signs you out everywhere.

If you did not ask for it, delete this message. Your password stays the same.`,
    },
    code: {
      subject: "Your code for [school]",
      text: `Your code: [code]

Type it on the page of [school] that you opened. It works once, for ten minutes.

If you did not ask for it, delete this message. Nobody can open anything without the link.`,
    },
    test: {
      subject: "Test message from [school]",
      text: `${hello}

This is a test. Mail from Gentle Margin at [school] arrives.`,
    },
    harm: {
      subject: "[student]: [what]",
      text: `${hello}

An incident of [student] was recorded in Gentle Margin, with [what].

${sign}`,
    },
    entry: {
      subject: "[student]: [what]",
      text: `${hello}

There is [what] for [student] in Gentle Margin.

${sign}`,
    },
    incident: {
      subject: "[student]: [what]",
      text: `${hello}

There is [what] for [student] in Gentle Margin.

${sign}`,
    },
    jot: {
      subject: "[student]: [what]",
      text: `${hello}

There is [what] for [student] in Gentle Margin.

${sign}`,
    },
    finding: {
      subject: "[student]: something to look at",
      text: `${hello}

[student]: [what].

${sign}`,
    },
    edition: {
      subject: "[student]: [what]",
      text: `${hello}

[school] has shared [what] with you.

Read it here:

[link]`,
    },
    due: {
      subject: "Data due",
      text: `${hello}

Data are due:

[what]

Your day in Gentle Margin:

[link]`,
    },
    statement: {
      subject: "[student]: a progress statement from you",
      text: `${hello}

For [student], you were asked to write [what].

Write it here:

[link]`,
    },
    question: {
      subject: "[student]: a family has a question",
      text: `${hello}

The family of [student] asks you a question.

Read and answer it here:

[link]`,
    },
    answer: {
      subject: "The school has answered your question",
      text: `${hello}

[school] has answered your question.

Read the answer here:

[link]`,
    },
    held: {
      subject: "[student]: late records wait for you",
      text: `${hello}

Observations of [student] were sent after their author’s part ended. Accept them or leave them out:

[link]`,
    },
    digest: {
      subject: "What is new at [school]",
      text: `${hello}

[what]

${sign}`,
    },
    receipt: {
      subject: "A note from [school]",
      text: `${hello}

[what]`,
    },
    words: {
      subject: "A message from [school]",
      text: `${hello}

[words]

[by], [school]`,
    },
    ask: {
      subject: "[student]: your feedback is wanted",
      text: `${hello}

[school] asks for your feedback on something for [student].

Answer here:

[link]`,
    },
    feedback: {
      subject: "Feedback for you",
      text: `${hello}

[words]

[school]`,
    },
  },
  entries: (n: number) => (n === 1 ? "a new entry" : counted(n, "new entry", "new entries")),
  incidents: (n: number) => (n === 1 ? "a new incident" : counted(n, "new incident")),
  jots: (n: number) => (n === 1 ? "a new jot" : counted(n, "new jot")),
  findings: (n: number) => counted(n, "thing to look at", "things to look at"),
  editions: (n: number) => (n === 1 ? "a new report" : counted(n, "new report")),
  statements: (n: number) => (n === 1 ? "a progress statement" : counted(n, "progress statement")),
  questions: (n: number) => counted(n, "question from the family", "questions from the family"),
  held: (n: number) => counted(n, "late record"),
  due: (n: number) => counted(n, "goal"),
  harm: (kinds: readonly ("injury" | "restraint" | "seclusion")[]) => listed(kinds),
  /** One student in a summary. */
  ofStudent: (initials: string, things: readonly string[]) => `${initials}: ${listed(things)}`,
  date: (on: string) => dateWithYear(on),
  finding: (goal: string, standing: string) => `Goal ${goal}: ${standing}`,
  pattern: "a pattern in the incidents",
  entryReceived: "We received your question. The case manager answers it on your page.",
  allSent: (n: number) => `Your message went to ${counted(n, "person", "people")}.`,
  report: "a report",
  recorded: "What was recorded:",
  openToRead: "Open it to read it: it may name another person.",
  whyStaff: (settings: string) =>
    `You receive this as a member of the school’s staff. Choose which messages you want: ${settings}`,
  whyFamily: "If you do not want messages by e-mail, tell the case manager.",
};
