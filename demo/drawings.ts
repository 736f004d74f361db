/** Pictures of jots in the demo, drawn for it: SVG, 960 × 720. Nobody is in them. */
const sheet = (inside: string, ground = "#e9e2d2") =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="960" height="720" viewBox="0 0 960 720"><rect width="960" height="720" fill="${ground}"/>${inside}</svg>`;

const line = (d: string, color = "#23364d", width = 6) =>
  `<path d="${d}" fill="none" stroke="${color}" stroke-width="${width}" stroke-linecap="round" stroke-linejoin="round"/>`;
const box = (x: number, y: number, width: number, height: number, fill: string, round = 12) =>
  `<rect x="${x}" y="${y}" width="${width}" height="${height}" rx="${round}" fill="${fill}" stroke="#23364d" stroke-width="5"/>`;

/** A packed school bag beside a list with three of four lines ticked. */
const packedBag = sheet(
  [
    `<rect y="560" width="960" height="160" fill="#c9b48f"/>`,
    line("M300 210 q90 -120 180 0", "#23364d", 16),
    box(220, 200, 340, 380, "#2f6b4f", 60),
    box(260, 390, 260, 150, "#3c8463", 26),
    line("M260 440 h260", "#e9e2d2", 5),
    box(250, 130, 60, 120, "#d9a441", 20),
    box(430, 120, 90, 110, "#b8c7d6", 8),
    line("M446 150 h58 M446 175 h58 M446 200 h40", "#23364d", 4),
    box(640, 180, 240, 330, "#fbf7ec", 8),
    ...[240, 310, 380, 450].map(
      (y, at) =>
        `<rect x="668" y="${y - 22}" width="34" height="34" fill="none" stroke="#23364d" stroke-width="4"/>${line(`M725 ${y} h${at === 1 ? 110 : 128}`, "#7a8794", 7)}${at < 3 ? line(`M674 ${y - 6} l10 12 l20 -26`, "#2f6b4f", 7) : ""}`,
    ),
  ].join(""),
);

/** Handwritten subtraction, 52 − 27 = 25, with the regrouped tens and ones above. */
const subtraction = sheet(
  [
    box(150, 70, 660, 580, "#fdfbf4", 4),
    ...[150, 230, 310, 390, 470, 550].map((y) => line(`M150 ${y} h660`, "#cfe0ec", 3)),
    // 4 and 12 above, the 5 crossed out.
    line("M405 110 l-24 44 h46 M416 128 v50", "#a33b2e", 7),
    line("M520 118 l16 -12 v62 M560 124 q26 -22 36 4 q2 18 -40 40 h42", "#a33b2e", 7),
    line("M440 210 h-44 v42 q54 -16 52 26 q-6 38 -56 24", "#23364d", 11),
    line("M380 320 l88 -120", "#a33b2e", 6),
    line("M540 226 q40 -36 52 6 q2 26 -58 68 h62", "#23364d", 11),
    line("M290 400 h44", "#23364d", 11),
    line("M396 372 q40 -36 52 6 q2 26 -58 68 h62", "#23364d", 11),
    line("M536 360 h62 l-40 92", "#23364d", 11),
    line("M280 490 h350", "#23364d", 8),
    line("M396 532 q40 -36 52 6 q2 26 -58 62 h62", "#23364d", 11),
    line("M594 520 h-44 v36 q54 -14 52 24 q-6 32 -56 20", "#23364d", 11),
  ].join(""),
  "#d8c7a6",
);

/** A card that asks for a break, on the corner of a desk: a cup and an open hand. */
const breakCard = sheet(
  [
    `<path d="M0 240 L960 130 V720 H0 Z" fill="#c9b48f"/>`,
    `<g transform="rotate(-7 480 400)">${box(220, 210, 520, 380, "#fbf7ec", 28)}${box(250, 240, 460, 320, "#dbe8ef", 18)}${box(310, 360, 130, 120, "#d9a441", 18)}${line("M440 390 q56 6 50 46 q-6 34 -50 34")}${line("M346 335 q-12 -22 4 -40 M386 335 q-12 -22 4 -40", "#7a8794", 6)}${line("M560 500 v-120 q0 -18 16 -18 q14 0 14 18 v-34 q0 -18 16 -18 q14 0 14 18 v30 q0 -16 15 -16 q14 0 14 16 v80 q0 60 -46 60 q-30 0 -52 -36")}</g>`,
  ].join(""),
  "#f0ead9",
);

/** A tower of eleven blocks, the tallest yet, with a shorter one beside it. */
const tower = sheet(
  [
    `<rect y="610" width="960" height="110" fill="#c9b48f"/>`,
    ...Array.from({ length: 11 }, (_, at) =>
      box(
        420 + (at % 3) * 8 - 8,
        560 - at * 50,
        120,
        50,
        ["#2f6b4f", "#d9a441", "#b8c7d6", "#a9553f"][at % 4] ?? "",
        6,
      ),
    ),
    ...Array.from({ length: 4 }, (_, at) =>
      box(660 + (at % 2) * 6, 560 - at * 50, 120, 50, ["#d9a441", "#a9553f"][at % 2] ?? "", 6),
    ),
  ].join(""),
  "#e4ebe4",
);

export const drawings = { packedBag, subtraction, breakCard, tower };
export type Drawing = keyof typeof drawings;
