import {
  Document,
  ExternalHyperlink,
  FootnoteReferenceRun,
  HeadingLevel,
  ImageRun,
  type IParagraphOptions,
  type IRunOptions,
  LevelFormat,
  Packer,
  Paragraph,
  type ParagraphChild,
  Table,
  TableCell,
  TableRow,
  TextRun,
} from "docx";
import type { Block } from "#core/text/block.ts";
import type { Field } from "#core/text/field.ts";
import { type Content, isManuscript } from "#core/text/fields.ts";
import type { Picture } from "#core/text/manuscript.ts";
import { noteRuns } from "#core/text/note.ts";
import { type MarkName, type NodeName, SPAN_MOST } from "#core/text/schema.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import { type InlineName, type PartName, type Way, walker } from "#core/text/walk.ts";
import type { DocumentPicture } from "../files/store.ts";

/** A piece's pictures by their file's id, as a document carries them. */
export type DocumentPictures = Map<string, DocumentPicture>;

/** An edition that is handed over: its pieces in their parts. */
export interface Gathered {
  title: string;
  /** What is left out of it, in a sentence; empty where nothing is. */
  note: string;
  parts: { name: string; pieces: { fields: readonly Field[]; content: Content; address: string | null }[] }[];
  /** The pictures it shows, for a form that carries them. */
  pictures: DocumentPictures;
}

/** What is gathered while a document is written. */
interface Writing {
  pictures: DocumentPictures;
  footnotes: Record<string, { children: Paragraph[] }>;
  /** The first number of each numbered list. */
  lists: number[];
}

/** A piece as a DOCX document: title, facts, pictures, manuscripts with their structure, notes as footnotes. */
export const asDocx = (fields: readonly Field[], content: Content, pictures: DocumentPictures): Promise<Buffer> =>
  documentOf(content.title, pictures, (writing) => bodyOf(fields, content, writing));

/** An edition as one DOCX document: its parts as headings, below them their pieces. */
export const editionDocx = ({ title, note, parts, pictures }: Gathered): Promise<Buffer> =>
  documentOf(title, pictures, (writing) => [
    ...(note ? [new Paragraph({ children: [new TextRun({ text: note, italics: true })] })] : []),
    ...parts.flatMap(({ name, pieces }) => [
      new Paragraph({ text: name, heading: HeadingLevel.HEADING_1 }),
      ...pieces.flatMap(({ fields, content }) => [
        new Paragraph({ text: content.title, heading: HeadingLevel.HEADING_2 }),
        ...bodyOf(fields, content, writing),
      ]),
    ]),
  ]);

/** What a piece says below its title: facts, pictures and manuscripts, in the order of its fields. */
function bodyOf(fields: readonly Field[], content: Content, writing: Writing): Standing {
  const facts = fields.flatMap((field) => {
    const value = isFact(field) ? sayValue(field, content) : "";
    return value
      ? [new Paragraph({ children: [new TextRun({ text: `${field.name}: `, bold: true }), new TextRun(value)] })]
      : [];
  });
  const body = fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    if (isManuscript(value)) return write(value as Block, { writing, under: {}, depth: 0 });
    return type === "image" && value ? picture(value as Picture, writing) : [];
  });
  return [...facts, ...body];
}

async function documentOf(
  title: string,
  pictures: DocumentPictures,
  write: (writing: Writing) => Standing,
): Promise<Buffer> {
  const writing: Writing = { pictures, footnotes: {}, lists: [] };
  const children = write(writing);
  const document = new Document({
    title,
    styles: {
      paragraphStyles: [
        { id: QUOTE, name: QUOTE, basedOn: "Normal", paragraph: { indent: { left: INDENT } }, run: { italics: true } },
        { id: CAPTION, name: CAPTION, basedOn: "Normal", run: { size: 18 } },
      ],
      characterStyles: [{ id: CREDIT, name: CREDIT, run: { italics: true } }],
    },
    footnotes: writing.footnotes,
    numbering: { config: writing.lists.map(numbering) },
    sections: [{ children: [new Paragraph({ text: title, heading: HeadingLevel.TITLE }), ...children] }],
  });
  return Packer.toBuffer(document);
}

const LEVELS = 9;
const QUOTE = "Quote";
const CAPTION = "Caption";
const CREDIT = "Credit";
/** The widest a picture stands on the page, in pixels at 96 to the inch. */
const PICTURE_WIDTH = 600;
/** In twentieths of a point. */
const INDENT = 720;
const numbering = (start: number, i: number) => ({
  reference: `list-${i}`,
  levels: Array.from({ length: LEVELS }, (_, level) => ({
    level,
    format: LevelFormat.DECIMAL,
    text: `%${level + 1}.`,
    start: level === 0 ? start : 1,
    style: { paragraph: { indent: { left: INDENT * (level + 1), hanging: INDENT / 2 } } },
  })),
});

const HEADINGS = { 2: HeadingLevel.HEADING_2, 3: HeadingLevel.HEADING_3, 4: HeadingLevel.HEADING_4 };

/** Where a block stands: what every paragraph there shares (quoted, set in), and in how many lists. */
interface Place {
  writing: Writing;
  under: IParagraphOptions;
  depth: number;
}

type Standing = (Paragraph | Table)[];

const paragraph =
  (own: (block: Block) => IParagraphOptions = () => ({})): Way<Standing, Place> =>
  (block, _, { writing, under }) => [
    new Paragraph({ ...under, ...own(block), children: (block.content ?? []).map((node) => run(node, writing)) }),
  ];

const write = walker<Exclude<NodeName, InlineName | PartName>, Standing, Place>({
  doc: (_, inside, place) => inside(place).flat(),
  paragraph: paragraph(),
  heading: paragraph(({ attrs }) => ({ heading: HEADINGS[attrs?.level as 2] })),
  blockquote: (_, inside, place) => inside({ ...place, under: { ...place.under, style: QUOTE } }).flat(),
  bulletList: (block, _, place) => items(block, { bullet: { level: levelAt(place) } }, place),
  orderedList: (block, _, place) => {
    const reference = `list-${place.writing.lists.push(Number(block.attrs?.start)) - 1}`;
    return items(block, { numbering: { reference, level: levelAt(place) } }, place);
  },
  horizontalRule: () => [new Paragraph({ thematicBreak: true })],
  table: (block, _, { writing }) => [table(block, writing)],
  image: ({ attrs }, _, { writing }) => picture(attrs as unknown as Picture, writing),
});

const levelAt = ({ depth }: Place) => Math.min(depth, LEVELS - 1);

const blocks = (all: readonly Block[], place: Place): Standing => all.flatMap((block) => write(block, place));

/** A picture and its caption; in place of one that is not there, what it showed. */
function picture({ file, alt, caption, credit }: Picture, { pictures }: Writing): Paragraph[] {
  const found = pictures.get(file);
  const width = Math.min(PICTURE_WIDTH, found?.width ?? 0);
  const image = found
    ? new ImageRun({
        type: "jpg",
        data: found.bytes,
        transformation: { width, height: Math.round((width * found.height) / found.width) },
        altText: { name: file.slice(0, 8), description: alt },
      })
    : new TextRun({ text: `[${alt}]`, italics: true });
  const words = [
    ...(caption ? [new TextRun(`${caption} `)] : []),
    ...(credit ? [new TextRun({ text: credit, style: CREDIT })] : []),
  ];
  const below = words.length > 0 ? [new Paragraph({ style: CAPTION, children: words })] : [];
  return [new Paragraph({ children: [image] }), ...below];
}

/** The first paragraph of an item has its mark; what follows in it is set in below. */
function items({ content: all = [] }: Block, marked: IParagraphOptions, { writing, depth }: Place): Standing {
  const below = { indent: { left: INDENT * (depth + 1) } };
  return all.flatMap(({ content: [first, ...more] = [] }) => [
    ...blocks(first ? [first] : [], { writing, under: marked, depth: depth + 1 }),
    ...blocks(more, { writing, under: below, depth: depth + 1 }),
  ]);
}

function table({ content: rows = [] }: Block, writing: Writing): Table {
  return new Table({
    rows: rows.map(
      ({ content: cells = [] }, i) =>
        new TableRow({
          // Said only where it is so: readers take the mere word for a yes.
          ...(i === 0 && cells.every((cell) => cell.type === "tableHeader") && { tableHeader: true }),
          children: cells.map(
            ({ attrs = {}, content = [] }) =>
              new TableCell({
                columnSpan: spanOf(attrs.colspan),
                rowSpan: spanOf(attrs.rowspan),
                children: blocks(content, { writing, under: {}, depth: 0 }),
              }),
          ),
        }),
    ),
  });
}

/** What was kept before spans were bounded may hold any number. */
const spanOf = (value: unknown) => Math.min(SPAN_MOST, Math.max(1, Math.trunc(Number(value ?? 1)) || 1));

const run = walker<InlineName, ParagraphChild, Writing>({
  text: ({ text = "", marks = [] }) => {
    const words = new TextRun(Object.assign({ text }, ...marks.map(({ type }) => LOOKS[type as MarkName])));
    const link = marks.find((mark) => mark.type === "link");
    return link ? new ExternalHyperlink({ link: String(link.attrs?.href), children: [words] }) : words;
  },
  hardBreak: () => new TextRun({ break: 1 }),
  note: ({ attrs }, _, { footnotes }) => {
    const id = Object.keys(footnotes).length + 1;
    footnotes[id] = {
      children: [
        new Paragraph({
          children: noteRuns(String(attrs?.text)).map(
            ({ words, emphasised }) => new TextRun({ text: words, italics: emphasised }),
          ),
        }),
      ],
    };
    return new FootnoteReferenceRun(id);
  },
});

/** How marked words look; a link is what stands around them. */
const LOOKS: Record<MarkName, IRunOptions> = { bold: { bold: true }, italic: { italics: true }, link: {} };
