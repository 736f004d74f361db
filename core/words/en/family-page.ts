import { dateWithYear } from "../dates.ts";

/** The family's own pages, and the message that brings a code: plain words, for a phone. */
export const familyPageEn = {
  entranceTitle: "For the family",
  entrance:
    "This page is opened by the link that the school gave you. If it no longer opens, ask the case manager for another one.",
  withAccount: "I have an account",
  askCode: (email: string) =>
    `To make sure that it is you, we send a code of six digits to ${email}. It is good for ten minutes.`,
  askStaff:
    "To make sure that it is you, this page asks for a code of six digits. The case manager gives it to you; it is good for ten minutes.",
  sendCode: "Send me a code",
  codeSent: (email: string) => `The code is on its way to ${email}.`,
  codeTooOften: "A code was asked for too often. Please wait a quarter of an hour.",
  code: "Code",
  open: "Open",
  wrongCode: "This is not the code, or it has run out. Ask for another one.",
  tooManyCodes: "Too many wrong tries. Please wait a quarter of an hour.",
  linkOver: "This link is no longer good. Ask the case manager for another one.",
  forWhom: (guardian: string) => `For ${guardian}`,
  chooseStudent: "Whose page?",
  reports: "Reports",
  noReports: "The school has not shared a report here yet.",
  madeOn: (on: string) => `made on ${dateWithYear(on)}`,
  fromSchool: "From the school days",
  noEntries: "Nothing has been shared here yet.",
  wordsTitle: "What the words mean",
  words: [
    [
      "Goal",
      "What the student learns to do, and how well, by a certain date. The team agreed on it with you.",
    ],
    ["Baseline", "What the student could do when the goal began."],
    ["Latest", "The newest result that was measured."],
    ["Expected by now", "Where the result would be today if it grew evenly from the baseline to the goal."],
    ["Support", "The help that was given: none, a word, a sign, a hand."],
    ["Case manager", "The teacher who looks after the plan. You can ask them anything on this page."],
  ] as readonly (readonly [word: string, meaning: string])[],
  askTitle: "A question to the case manager",
  askHint: "One question at a time. You see the answer here.",
  questionLabel: "Your question",
  ask: "Send the question",
  asked: "Your question is with the case manager.",
  emptyQuestion: "Write your question first.",
  longQuestion: "At most 2,000 characters.",
  oneWaiting: "Your question from before is still waiting for its answer.",
  yourQuestion: (on: string) => `You asked on ${dateWithYear(on)}`,
  answer: (on: string) => `Answer, ${dateWithYear(on)}`,
  answeredOtherwise: (on: string) => `Answered in person, ${dateWithYear(on)}`,
  accountTitle: "Without a link next time",
  accountHint: (email: string) =>
    `Choose a password. Then you sign in with ${email} and need no link any more.`,
  password: "Password",
  passwordHint: "At least 12 characters; a few words are good. None of the most common ones.",
  weakPassword: "Please choose at least 12 characters, and none of the most common passwords.",
  keepAccount: "Make an account",
  accountThere: "There is an account with this address already. Type its password.",
  accountMade: "You have an account now. Next time, sign in with your address and password.",
  back: "Back",
  print: "Print",
  leave: "Close this page",
  codeSubject: (school: string) => `Your code for ${school}`,
  codeMail: (code: string, school: string) =>
    `Your code: ${code}

Type it on the page of ${school} that you opened. It is good for ten minutes and for one use.
If you did not ask for it, delete this message. Nobody can open anything without the link.
`,
};
