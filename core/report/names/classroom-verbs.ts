/** Verbs of classroom notes whose forms are not made by rule: [base, past, other past forms]. */
const irregular: readonly (readonly string[])[] = [
  ["be", "was", "were", "is", "been", "isnt", "wasnt"],
  ["have", "had", "has", "hadnt", "hasnt"],
  ["do", "did", "does", "didnt", "doesnt", "done"],
  ["go", "went", "gone"],
  ["get", "got"],
  ["take", "took", "taken"],
  ["give", "gave", "given"],
  ["come", "came"],
  ["say", "said"],
  ["tell", "told"],
  ["see", "saw", "seen"],
  ["sit", "sat"],
  ["stand", "stood"],
  ["run", "ran"],
  ["hit", "hit"],
  ["hurt", "hurt"],
  ["bite", "bit", "bitten"],
  ["throw", "threw", "thrown"],
  ["break", "broke", "broken"],
  ["leave", "left"],
  ["make", "made"],
  ["find", "found"],
  ["feel", "felt"],
  ["fall", "fell"],
  ["fight", "fought"],
  ["hide", "hid"],
  ["hold", "held"],
  ["keep", "kept"],
  ["know", "knew"],
  ["read", "read"],
  ["write", "wrote", "written"],
  ["speak", "spoke"],
  ["spit", "spat", "spit"],
  ["steal", "stole"],
  ["swing", "swung"],
  ["tear", "tore"],
  ["think", "thought"],
  ["understand", "understood"],
  ["win", "won"],
  ["eat", "ate"],
  ["draw", "drew"],
  ["bring", "brought"],
  ["catch", "caught"],
  ["choose", "chose"],
  ["cut", "cut"],
  ["put", "put"],
  ["let", "let"],
  ["lose", "lost"],
  ["meet", "met"],
  ["sing", "sang"],
  ["sleep", "slept"],
  ["wake", "woke"],
  ["begin", "began"],
  ["can", "could", "cant", "couldnt"],
  ["would", "wouldnt"],
];

/** Regular verbs whose present is common in notes: "pulls", "yells". */
const regular = [
  ...[
    "ask",
    "answer",
    "argue",
    "arrive",
    "bother",
    "call",
    "chase",
    "comfort",
    "copy",
    "cry",
    "drop",
    "finish",
  ],
  ...["follow", "grab", "help", "hug", "ignore", "join", "jump", "kick", "laugh", "like", "listen", "look"],
  ...[
    "need",
    "notice",
    "offer",
    "pinch",
    "play",
    "poke",
    "pull",
    "punch",
    "push",
    "raise",
    "refuse",
    "reply",
  ],
  ...[
    "scratch",
    "scream",
    "share",
    "shove",
    "shout",
    "show",
    "slap",
    "smile",
    "sob",
    "start",
    "stop",
    "talk",
  ],
  ...["tap", "tease", "trip", "try", "turn", "use", "wait", "walk", "want", "wave", "whisper", "yell"],
];

const thirdPerson = (base: string) =>
  /(?:s|x|z|ch|sh)$/.test(base)
    ? `${base}es`
    : /[^aeiou]y$/.test(base)
      ? `${base.slice(0, -1)}ies`
      : `${base}s`;

const forms = new Set([
  ...irregular.flatMap(([base = "", ...past]) => [...past, thirdPerson(base)]),
  ...regular.map(thirdPerson),
]);
const sameAsBase = new Set(["hit", "hurt", "read", "spit", "cut", "put", "let"]);

/** Of these, what is as often done with a thing or a feeling: "showed joy". */
const things = ["kept", "left", "made", "let", "gave", "gives", "giving", "showed", "shows", "sent", "met"];

/** What is done to somebody, and takes its object without an article: "hit Will", "told Grace". */
const towards = new Set(
  [
    ["hit", "hits", "hitting", "hurt", "hurts", "bit", "bites", "biting", "told", "tells", "telling"],
    ["beat", ...things],
    ...[
      "ask",
      "bother",
      "call",
      "chase",
      "comfort",
      "copy",
      "follow",
      "grab",
      "help",
      "hug",
      "ignore",
      "join",
    ].map(all),
    ...["kick", "pinch", "poke", "pull", "punch", "push", "scratch", "shove", "slap", "tackle", "tap"].map(
      all,
    ),
    ...[
      "tease",
      "thank",
      "touch",
      "trip",
      "invite",
      "choke",
      "tickle",
      "partner",
      "hand",
      "pass",
      "praise",
    ].map(all),
  ].flat(),
);

function all(base: string): string[] {
  const stem = base.replace(/e$/, "");
  const doubled = /[^aeiou][aeiou][bdgmnprt]$/.test(base) ? base + base.slice(-1) : stem;
  return [thirdPerson(base), `${doubled}ed`, `${doubled}ing`];
}

/** Does the word say what somebody did or does, as in "Will pushed", "Grace sits"? */
export const isThirdPersonVerb = (word: string): boolean =>
  forms.has(word) || sameAsBase.has(word) || /[^aeiou ]ed$|[aeiou][^aeiou]ed$|ied$/.test(word);

/** Does the word take a person right after it, as in "hit Will", "told Grace"? */
export const takesPerson = (word: string): boolean => towards.has(word);

/** Is it never said of anything else, so that a word without a capital and an article is a person: "hit will"? */
export const takesOnlyPerson = (word: string): boolean => towards.has(word) && !things.includes(word);
