import {
  Document,
  ExternalHyperlink,
  FootnoteReferenceRun,
  HeadingLevel,
  ImageRun,
  type IParagraphOptions,
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
import { type Content, type Field, isManuscript } from "#core/text/fields.ts";
import type { Picture } from "#core/text/manuscript.ts";
import { isFact, sayValue } from "#core/text/values.ts";
import type { DocumentPicture } from "../files/store.ts";

/** A piece's pictures by their file's id, as a document carries them. */
export type DocumentPictures = Map<string, DocumentPicture>;

/** What is gathered while a document is written. */
interface Writing {
  pictures: DocumentPictures;
  footnotes: Record<string, { children: Paragraph[] }>;
  /** The first number of each numbered list. */
  lists: number[];
}

/** A piece as a DOCX document: title, facts, pictures, manuscripts with their structure, notes as footnotes. */
export async function asDocx(fields: readonly Field[], content: Content, pictures: DocumentPictures): Promise<Buffer> {
  const writing: Writing = { pictures, footnotes: {}, lists: [] };
  const facts = fields.flatMap((field) => {
    const value = isFact(field) ? sayValue(field, content) : "";
    return value
      ? [new Paragraph({ children: [new TextRun({ text: `${field.name}: `, bold: true }), new TextRun(value)] })]
      : [];
  });
  const body = fields.flatMap(({ key, type }) => {
    const value = content.fields[key];
    if (isManuscript(value)) return blocks((value as Block).content ?? [], writing, {});
    return type === "image" && value ? picture(value as Picture, writing) : [];
  });
  const document = new Document({
    title: content.title,
    styles: {
      paragraphStyles: [
        { id: QUOTE, name: QUOTE, basedOn: "Normal", paragraph: { indent: { left: INDENT } }, run: { italics: true } },
        { id: CAPTION, name: CAPTION, basedOn: "Normal", run: { size: 18 } },
      ],
      characterStyles: [{ id: CREDIT, name: CREDIT, run: { italics: true } }],
    },
    footnotes: writing.footnotes,
    numbering: { config: writing.lists.map(numbering) },
    sections: [{ children: [new Paragraph({ text: content.title, heading: HeadingLevel.TITLE }), ...facts, ...body] }],
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

/**
 * @param under what every paragraph of these blocks shares: that it is quoted, how far it is set in
 * @param depth in how many lists they stand
 */
function blocks(all: readonly Block[], writing: Writing, under: IParagraphOptions, depth = 0): (Paragraph | Table)[] {
  return all.flatMap((block) => {
    const { attrs = {}, content = [] } = block;
    switch (block.type) {
      case "heading":
        return [new Paragraph({ ...under, heading: HEADINGS[attrs.level as 2], children: runs(content, writing) })];
      case "blockquote":
        return blocks(content, writing, { ...under, style: QUOTE }, depth);
      case "bulletList":
        return items(content, writing, { bullet: { level: Math.min(depth, LEVELS - 1) } }, depth);
      case "orderedList": {
        const reference = `list-${writing.lists.push(Number(attrs.start)) - 1}`;
        return items(content, writing, { numbering: { reference, level: Math.min(depth, LEVELS - 1) } }, depth);
      }
      case "table":
        return [table(block, writing)];
      case "horizontalRule":
        return [new Paragraph({ thematicBreak: true })];
      case "image":
        return picture(attrs as unknown as Picture, writing);
      default:
        return [new Paragraph({ ...under, children: runs(content, writing) })];
    }
  });
}

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
function items(
  all: readonly Block[],
  writing: Writing,
  marked: IParagraphOptions,
  depth: number,
): (Paragraph | Table)[] {
  return all.flatMap(({ content: [first, ...more] = [] }) => [
    ...blocks(first ? [first] : [], writing, marked, depth + 1),
    ...blocks(more, writing, { indent: { left: INDENT * (depth + 1) } }, depth + 1),
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
                columnSpan: Number(attrs.colspan ?? 1),
                rowSpan: Number(attrs.rowspan ?? 1),
                children: blocks(content, writing, {}),
              }),
          ),
        }),
    ),
  });
}

function runs(inline: readonly Block[], writing: Writing): ParagraphChild[] {
  return inline.map((node) => {
    if (node.type === "hardBreak") return new TextRun({ break: 1 });
    if (node.type === "note") {
      const id = Object.keys(writing.footnotes).length + 1;
      writing.footnotes[id] = { children: [new Paragraph(String(node.attrs?.text))] };
      return new FootnoteReferenceRun(id);
    }
    const has = (type: string) => node.marks?.some((mark) => mark.type === type) ?? false;
    const run = new TextRun({ text: node.text ?? "", bold: has("bold"), italics: has("italic") });
    const link = node.marks?.find((mark) => mark.type === "link");
    return link ? new ExternalHyperlink({ link: String(link.attrs?.href), children: [run] }) : run;
  });
}
