import type { Field } from "../text/field.ts";
import { type Content, forReaders } from "../text/fields.ts";
import type { Manuscript } from "../text/manuscript.ts";
import { toMarkdown } from "../text/markdown-out.ts";
import { countWords } from "../text/measure.ts";

/** What an assistant can be sent for: how it is called, what for, and what it brings. */
export const ERRANDS = {
  outline: { name: "An outline", about: "headings, and a line below each", brings: "text" },
  draft: { name: "A first draft", about: "a text to begin from", brings: "text" },
  shorter: { name: "A shorter version", about: "the same in fewer words", brings: "text" },
  keywords: { name: "Keywords", about: "words it may be found by", brings: "words" },
  check: { name: "A check against the brief", about: "what is missing, or says something else", brings: "points" },
} as const satisfies Record<string, { name: string; about: string; brings: "text" | "words" | "points" }>;

export type Errand = keyof typeof ERRANDS;
export const ERRAND_KEYS = Object.keys(ERRANDS) as [Errand, ...Errand[]];

/** So many characters an assistant is sent at most. */
export const SENT_MOST = 200_000;

/** What of a piece an assistant is sent. Never its notes for the workshop alone, its files, its remarks or its people. */
export interface Sent {
  title: string;
  kind: string;
  brief: string;
  /** What its kind asks for, with what is there already. */
  fields: { name: string; guidance: string; says: string }[];
  /** Its text, in Markdown; pictures by their description alone. */
  text: string;
  words: number;
  /** So many words it should have at most; null where its kind does not say. */
  mostWords: number | null;
}

/** The field an assistant writes for: the first of a kind that holds a text readers see; null where there is none. */
export const textField = (fields: readonly Field[]): Field | null =>
  forReaders(fields).find((field) => field.type === "manuscript") ?? null;

/** The fields keywords can be taken into. */
export const lineFields = (fields: readonly Field[]): Field[] => fields.filter((field) => field.type === "line");

/** What of a piece is sent, whatever it is asked for. */
export function sentOf(fields: readonly Field[], content: Content, about: { kind: string; brief: string }): Sent {
  const into = textField(fields);
  const value = into && (content.fields[into.key] as Manuscript | undefined);
  const text = value ? toMarkdown(value, () => "") : "";
  const said = (field: Field) => {
    const one = content.fields[field.key];
    return typeof one === "string" || typeof one === "number" ? String(one) : "";
  };
  return {
    title: content.title,
    kind: about.kind,
    brief: about.brief,
    fields: forReaders(fields)
      .filter(({ type }) => ["line", "number", "date", "choice"].includes(type))
      .map((field) => ({ name: field.name, guidance: field.guidance ?? "", says: said(field) })),
    text,
    words: countWords(text),
    mostWords: into?.maxWords ?? null,
  };
}
