import {
  AlignmentType,
  Document,
  Footer,
  Header,
  HeadingLevel,
  ImageRun,
  LevelFormat,
  Packer,
  PageNumber,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from "docx";
import sharp from "sharp";
import type {
  GoalBlock,
  RatersTable,
  ReportBlock,
  ReportDocument,
  ReportList,
  ReportSection,
} from "#core/report/document.ts";
import { lineMarks } from "#core/report/line-marks.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import { xmlText as clean } from "./xml-text.ts";

/** A chart as a picture: an SVG in pixels of a page, and what it shows in words. */
export interface Drawing {
  svg: string;
  width: number;
  height: number;
  description: string;
}

/** A picture of a jot with its bytes. */
export interface FiledPicture {
  type: "jpg" | "png";
  content: Buffer;
}

/** What a file needs beside the report itself. */
export interface WordParts {
  drawingOf: (block: ReportBlock) => Drawing | null;
  /** Null where its bytes are not here. */
  pictureOf: (pictureId: string) => FiledPicture | null;
  /** "Edition 3", or what kind of report it is. */
  called: string;
  paper: "letter" | "a4";
}

/** In twentieths of a point. */
const paperSize = { letter: { width: 12_240, height: 15_840 }, a4: { width: 11_906, height: 16_838 } };
/** In pixels, as `docx` counts those of a picture. */
const columnWidth = 600;
const mostHigh = 320;
const soft = "566073";
const bullets = "gentle-margin-list";
const rtl = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/u;

/** A line of text that runs from right to left is set so. */
const isRtl = (text: string) => rtl.test(text.trimStart().charAt(0));
interface RunOptions {
  bold?: boolean;
  color?: string;
  size?: number;
}
const runs = (text: string, options: RunOptions = {}): TextRun[] =>
  clean(text)
    .split("\n")
    .map(
      (line, at) =>
        new TextRun({ ...options, text: line, ...(at > 0 ? { break: 1 } : {}), rightToLeft: isRtl(text) }),
    );

const paragraph = (text: string, options: RunOptions = {}): Paragraph =>
  new Paragraph({ children: runs(text, options), spacing: { after: 100 }, bidirectional: isRtl(text) });
const heading = (text: string, level: (typeof HeadingLevel)[keyof typeof HeadingLevel]): Paragraph =>
  new Paragraph({ children: runs(text), heading: level, keepNext: true, bidirectional: isRtl(text) });
const item = (children: TextRun[], isRightToLeft = false): Paragraph =>
  new Paragraph({
    ...{ children, spacing: { after: 40 }, bidirectional: isRightToLeft },
    numbering: { reference: bullets, level: 0 },
  });
const beside = (text: string) => runs(text, { color: soft, size: 18 });

/** A table whose first row is repeated on each page. */
function table(head: readonly string[], rows: readonly (readonly string[])[]): Table {
  const cell = (text: string, bold = false) =>
    new TableCell({
      children: [new Paragraph({ children: runs(text, { bold, size: 19 }), bidirectional: isRtl(text) })],
      margins: { top: 40, bottom: 40, left: 80, right: 80 },
    });
  return new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    rows: [
      new TableRow({ tableHeader: true, cantSplit: true, children: head.map((text) => cell(text, true)) }),
      ...rows.map((cells) => new TableRow({ cantSplit: true, children: cells.map((text) => cell(text)) })),
    ],
  });
}

type Piece = Paragraph | Table;

/** A picture no wider than the column and no higher than half a page. */
function scaled(width: number, height: number) {
  const by = Math.min(1, columnWidth / width, mostHigh / height);
  return { width: Math.round(width * by), height: Math.round(height * by) };
}

/** A drawing as an SVG, with a PNG beside it for programs that read none. */
async function drawn({ svg, width, height, description }: Drawing, name: string): Promise<Paragraph> {
  const png = await sharp(Buffer.from(svg), { density: 192 }).png().toBuffer();
  return new Paragraph({
    spacing: { before: 80, after: 120 },
    children: [
      new ImageRun({
        type: "svg",
        data: Buffer.from(svg),
        fallback: { type: "png", data: png },
        transformation: scaled(width, height),
        altText: { name, title: name, description },
      }),
    ],
  });
}

const ratersTable = ({ label, columns, rows, sentence }: RatersTable): Piece[] => [
  heading(label, HeadingLevel.HEADING_4),
  table(
    ["", ...columns.map(({ name, about }) => `${name}\n${about}`)],
    rows.map(({ day, cells }) => [day, ...cells.map((cell) => cell ?? "–")]),
  ),
  paragraph(sentence),
];

async function goalPieces(goal: GoalBlock, parts: WordParts): Promise<Piece[]> {
  const { number, title, wording, meaning, standing, figures, sentences, facts, lists } = goal;
  const drawing = parts.drawingOf(goal);
  return [
    heading(`${number} ${title}`, HeadingLevel.HEADING_3),
    paragraph(wording),
    ...(meaning ? [paragraph(meaning)] : []),
    ...(standing
      ? [
          new Paragraph({
            spacing: { after: 100 },
            children: [...runs(`${standing.word}. `, { bold: true }), ...runs(standing.why)],
          }),
        ]
      : []),
    ...figures.map(
      ({ label, value, about }) =>
        new Paragraph({
          spacing: { after: 40 },
          children: [...runs(`${label}: `), ...runs(value, { bold: true }), ...beside(` ${about}`)],
        }),
    ),
    ...sentences.map((text) => paragraph(text)),
    ...(facts.length > 0
      ? [
          paragraph(facts.map(({ label, value }) => `${label}: ${value}`).join(" · "), {
            color: soft,
            size: 19,
          }),
        ]
      : []),
    ...(drawing && goal.chart
      ? [
          new Paragraph({ children: beside(goal.chart.chart.axisTitle), keepNext: true }),
          await drawn(drawing, `${number} ${title}`),
        ]
      : []),
    ...(goal.statements ?? []).flatMap(({ label, rating, drafted, words, by }) => [
      heading(label, HeadingLevel.HEADING_4),
      ...(rating || drafted
        ? [
            new Paragraph({
              spacing: { after: 80 },
              children: [...(rating ? runs(`${rating} `, { bold: true }) : []), ...runs(drafted)],
            }),
          ]
        : []),
      ...(words ? [paragraph(words)] : []),
      new Paragraph({ children: beside(by) }),
    ]),
    ...lists.flatMap((list) => listPieces(list, HeadingLevel.HEADING_4)),
    ...(goal.raters ? ratersTable(goal.raters) : []),
  ];
}

const listPieces = (
  { label, items }: ReportList,
  level: (typeof HeadingLevel)[keyof typeof HeadingLevel],
): Paragraph[] => [
  heading(label, level),
  ...items.map(({ text, aside }) =>
    item([...runs(text), ...(aside ? beside(` ${aside}`) : [])], isRtl(text)),
  ),
];

function linePiece(line: ReportLine, language: ReportDocument["language"]): Paragraph {
  const { sentence, note, by, link, pictures = [], teamOnly, noteForTeam, revision } = line;
  const says = lineMarks[language];
  const after = [
    by,
    teamOnly && says.teamOnly,
    noteForTeam && says.noteForTeam,
    revision > 1 && says.corrected,
  ].filter(Boolean);
  return item(
    [
      ...runs([sentence, note, link && `${link.words}: ${link.url}`].filter(Boolean).join(" ")),
      ...beside([...pictures.map(({ words }) => ` ${words}`), ` ${after.join(" · ")}`].join("")),
    ],
    isRtl(note ?? sentence),
  );
}

async function blockPieces(block: ReportBlock, document: ReportDocument, parts: WordParts): Promise<Piece[]> {
  switch (block.kind) {
    case "glance":
      return block.columns.flatMap(({ label, items }) => [
        heading(label, HeadingLevel.HEADING_3),
        ...items.map(({ text }) => item(runs(text), isRtl(text))),
      ]);
    case "goal":
      return goalPieces(block, parts);
    case "heading":
      return [heading(block.text, HeadingLevel.HEADING_3)];
    case "sentence":
      return [paragraph(block.text)];
    case "legend":
      return [new Paragraph({ children: beside(block.text), spacing: { before: 80 } })];
    case "line":
      return [linePiece(block.line, document.language)];
    case "meeting":
      return block.lists.flatMap((list) => listPieces(list, HeadingLevel.HEADING_3));
    case "assessment": {
      const { title, about, comment, columns, rows, by } = block;
      return [
        heading(title, HeadingLevel.HEADING_3),
        new Paragraph({ children: beside(about) }),
        ...(comment ? [paragraph(comment)] : []),
        table(
          [columns.criterion, columns.level, columns.meaning],
          rows.map(({ criterion, level, meaning }) => [criterion, level, meaning]),
        ),
        new Paragraph({ children: beside(by), spacing: { before: 60 } }),
      ];
    }
    case "weeks": {
      const drawing = parts.drawingOf(block);
      return [
        heading(block.title, HeadingLevel.HEADING_3),
        ...(drawing ? [await drawn(drawing, block.title)] : []),
      ];
    }
    case "plan":
      return [
        heading(`${block.name} ${block.days}`, HeadingLevel.HEADING_3),
        ...block.facts.map(({ label, value }) =>
          item([...beside(`${label}: `), ...runs(value)], isRtl(value)),
        ),
        ...(block.changed ? [item(runs(block.changed))] : []),
      ];
    case "jots": {
      const { title, counts, levels, latest, chart, raters } = block;
      const drawing = parts.drawingOf(block);
      return [
        heading(title, HeadingLevel.HEADING_3),
        paragraph(counts),
        ...(drawing && chart
          ? [await drawn(drawing, chart.title), new Paragraph({ children: beside(chart.legend) })]
          : []),
        ...levels.flatMap(({ name, meaning }) => (meaning ? [item(runs(`${name}: ${meaning}`))] : [])),
        ...(latest
          ? [
              new Paragraph({
                spacing: { before: 60, after: 100 },
                children: [
                  ...beside(`${latest.label}: `),
                  ...runs(latest.text),
                  ...beside(
                    ` ${[latest.by, latest.teamOnly && lineMarks[document.language].teamOnly].filter(Boolean).join(" · ")}`,
                  ),
                ],
              }),
            ]
          : []),
        ...(raters ? ratersTable(raters) : []),
      ];
    }
    case "pictures":
      return block.items.flatMap(({ pictureId, caption, by, width, height }) => {
        const picture = parts.pictureOf(pictureId);
        return [
          ...(picture
            ? [
                new Paragraph({
                  keepNext: true,
                  spacing: { before: 80 },
                  children: [
                    new ImageRun({
                      type: picture.type,
                      data: picture.content,
                      transformation: scaled(width, height),
                      altText: { name: caption, title: caption, description: caption },
                    }),
                  ],
                }),
              ]
            : []),
          new Paragraph({ spacing: { after: 120 }, children: [...runs(caption), ...beside(` ${by}`)] }),
        ];
      });
  }
}

/** The lines of a section whose audience reads them as a table. */
function lineTable({ blocks, columns }: ReportSection): Piece[] | null {
  if (!columns) return null;
  let day = "";
  const rows = blocks.flatMap((block) => {
    if (block.kind === "heading") day = block.text;
    return block.kind === "line" ? [[day, block.line.sentence, block.line.note ?? "", block.line.by]] : [];
  });
  if (rows.length === 0) return null;
  const kept = [0, 1, ...[2, 3].filter((at) => rows.some((cells) => cells[at]))];
  const only = (cells: readonly string[]) => kept.map((at) => cells[at] ?? "");
  return [table(only([columns.on, columns.result, columns.note, columns.by]), rows.map(only))];
}

/** The lines of a section whose audience reads them as sentences: a paragraph under each heading. */
function lineSentences({ blocks }: ReportSection): Piece[] {
  const pieces: Piece[] = [];
  let lines: string[] = [];
  const close = () => {
    if (lines.length > 0) pieces.push(paragraph(lines.join(" ")));
    lines = [];
  };
  for (const block of blocks) {
    if (block.kind === "line") {
      lines.push([block.line.sentence, block.line.note, block.line.by].filter(Boolean).join(" "));
      continue;
    }
    close();
    if (block.kind === "heading") pieces.push(heading(block.text, HeadingLevel.HEADING_3));
    if (block.kind === "sentence") pieces.push(paragraph(block.text));
  }
  close();
  return pieces;
}

async function sectionPieces(
  section: ReportSection,
  document: ReportDocument,
  parts: WordParts,
): Promise<Piece[]> {
  const lines =
    section.layout === "table"
      ? lineTable(section)
      : section.layout === "sentences"
        ? lineSentences(section)
        : null;
  const pieces =
    lines ?? (await Promise.all(section.blocks.map((block) => blockPieces(block, document, parts)))).flat();
  return [heading(section.label, HeadingLevel.HEADING_2), ...pieces];
}

/**
 * A report as a Word document (Office Open XML, ISO/IEC 29500): headings, lists and tables are real ones, so that it can be edited and
 * read aloud; charts are pictures with what they show in words.
 *
 * @returns the bytes of the file
 */
export async function reportWord(document: ReportDocument, parts: WordParts): Promise<Buffer> {
  const { title, facts, sections, language, head } = document;
  const body = (await Promise.all(sections.map((section) => sectionPieces(section, document, parts)))).flat();
  const lang = language === "es" ? "es-US" : "en-US";
  const file = new Document({
    title: clean(`${title} · ${parts.called}`),
    creator: "Gentle Margin",
    lastModifiedBy: "Gentle Margin",
    description: "",
    styles: {
      default: {
        document: { run: { font: "Georgia", size: 21, language: { value: lang } } },
        title: { run: { size: 44, bold: true, font: "Georgia" } },
        heading1: { run: { size: 40, bold: true, font: "Georgia" }, paragraph: { spacing: { after: 60 } } },
        heading2: { run: { size: 28, bold: true }, paragraph: { spacing: { before: 320, after: 100 } } },
        heading3: { run: { size: 23, bold: true }, paragraph: { spacing: { before: 220, after: 60 } } },
        heading4: {
          run: { size: 19, bold: true, color: soft },
          paragraph: { spacing: { before: 140, after: 40 } },
        },
      },
    },
    numbering: {
      config: [
        {
          reference: bullets,
          levels: [
            {
              ...{ level: 0, format: LevelFormat.BULLET, text: "•", alignment: AlignmentType.LEFT },
              style: { paragraph: { indent: { left: 360, hanging: 240 } } },
            },
          ],
        },
      ],
    },
    sections: [
      {
        properties: {
          page: {
            size: paperSize[parts.paper],
            margin: { top: 1000, bottom: 1000, left: 1100, right: 1100 },
          },
        },
        headers: {
          default: new Header({
            children: [new Paragraph({ children: beside([head, parts.called].join(" · ")) })],
          }),
        },
        footers: {
          default: new Footer({
            children: [
              new Paragraph({
                alignment: AlignmentType.END,
                children: [
                  new TextRun({
                    color: soft,
                    size: 18,
                    children: [PageNumber.CURRENT, " / ", PageNumber.TOTAL_PAGES],
                  }),
                ],
              }),
            ],
          }),
        },
        children: [
          heading(title, HeadingLevel.HEADING_1),
          new Paragraph({ children: beside(parts.called), spacing: { after: 120 } }),
          ...facts.map(
            ({ label, value }) =>
              new Paragraph({
                spacing: { after: 40 },
                children: [...beside(`${label}: `), ...runs(value)],
                bidirectional: isRtl(value),
              }),
          ),
          ...body,
        ],
      },
    ],
  });
  return Packer.toBuffer(file);
}
