/** What a message can be about. Each kind has a template of its own, in each language. */
export const messageKinds = [
  ...(["invitation", "reset", "code", "test", "harm", "entry", "incident", "jot", "finding"] as const),
  ...(["edition", "due", "statement", "question", "answer", "held", "digest", "receipt", "words"] as const),
  ...(["ask", "feedback"] as const),
] as const;
export type MessageKind = (typeof messageKinds)[number];

/** Is this one of the kinds? */
export const isMessageKind = (kind: string): kind is MessageKind => messageKinds.some((one) => one === kind);

/** How soon a person hears of something. */
export const ways = ["once", "daily", "weekly", "off"] as const;
export type Way = (typeof ways)[number];

/** The kinds that each person chooses for themselves, with the ways there are and the one that holds until they choose. */
export const chosenKinds = {
  incident: { ways, usual: "once" },
  entry: { ways, usual: "daily" },
  jot: { ways, usual: "daily" },
  finding: { ways, usual: "daily" },
  edition: { ways, usual: "once" },
  statement: { ways: ["once", "daily", "off"], usual: "once" },
  question: { ways: ["once", "daily", "off"], usual: "once" },
  held: { ways: ["once", "daily", "off"], usual: "once" },
  due: { ways: ["daily", "weekly", "off"], usual: "off" },
} as const satisfies Partial<Record<MessageKind, { ways: readonly Way[]; usual: Way }>>;
export type ChosenKind = keyof typeof chosenKinds;
export const chosenKindNames = Object.keys(chosenKinds) as ChosenKind[];

/** Is this a kind that people choose for themselves? */
export const isChosenKind = (kind: string): kind is ChosenKind => Object.hasOwn(chosenKinds, kind);

/** What one person has chosen; a kind that is not here is as usual. */
export type Choices = Readonly<Partial<Record<ChosenKind, Way>>>;

/** The way that holds for a person and a kind. A stored way that a kind no longer has counts as its usual one. */
export function wayOf(choices: Choices, kind: ChosenKind): Way {
  const { ways: allowed, usual }: { ways: readonly Way[]; usual: Way } = chosenKinds[kind];
  const chosen = choices[kind];
  return chosen !== undefined && allowed.includes(chosen) ? chosen : usual;
}

/**
 * Messages that a person waits for at the screen, or that nobody may miss: they wait for no quiet hours and no other message, and the
 * daily limit does not hold them back.
 */
export const isUrgent = (kind: MessageKind): boolean =>
  kind === "invitation" || kind === "reset" || kind === "code" || kind === "test" || kind === "harm";

/** Messages whose link or code lets somebody in: what they said is stored nowhere. */
export const isSecret = (kind: MessageKind): boolean =>
  kind === "invitation" || kind === "reset" || kind === "code";
