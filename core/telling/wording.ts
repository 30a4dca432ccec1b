import Mustache from "mustache";

/** Where a notice is read: in the application, and by the routes its messages go. */
export const WORDED = ["app", "mail", "chat"] as const;
export type Worded = (typeof WORDED)[number];

/** What the words of a notice may be made of, and what each holds. */
export const FIELDS = {
  what: "the sentence Elenco would say",
  who: "who did it",
  piece: "the title of the piece",
  section: "its section",
  stop: "the stop it is about",
  date: "the date it is about, in the reader’s zone",
  note: "what somebody wrote with it",
  more: "what else belongs to it",
  you: "whoever reads it",
  publication: "the name of the publication",
} as const;
export type Field = keyof typeof FIELDS;
export type FieldValues = Readonly<Record<Field, string>>;

/** How a notice is worded: a line that stands alone, and what is read below it. */
export interface Wording {
  headline: string;
  body: string;
}
export const WORDING_PARTS = ["headline", "body"] as const;

/** So much fits, in characters: the words of a notice are short. */
export const WORDING_MOST: Record<keyof Wording, number> = { headline: 200, body: 2000 };
/** So many characters of what a field holds are taken, and so many are said in all. */
const [VALUE_MOST, SAID_MOST] = [4000, 10_000];

const MESSAGE: Wording = {
  headline: "{{what}}",
  body: "{{what}}.\n{{#note}}\n\n“{{note}}”\n{{/note}}\n{{#more}}\n\n{{more}}\n{{/more}}",
};
/** The words there are before anybody words them anew; they can always be come back to. */
export const READY_WORDING: Record<Worded, Wording> = {
  app: { headline: "{{what}}", body: "{{note}}" },
  mail: MESSAGE,
  chat: MESSAGE,
};

/** One that keeps no template it read before: what is tried in an editor comes once. */
const fresh = () => new Mustache.Writer();

/** What is amiss with a template, and where: line and column count from one. */
export interface Fault {
  line: number;
  column: number;
  sentence: string;
}

/**
 * What is amiss with a template: a brace or a part that is not closed, and what is no field of it. A template
 * holds fields, `{{#note}} … {{/note}}` for what is said only with a note, and `{{^note}} … {{/note}}` without
 * one; it computes nothing and repeats nothing.
 *
 * @param fields the fields its notice has
 */
export function faultsIn(template: string, fields: readonly Field[]): Fault[] {
  const fault = (at: number, sentence: string): Fault => {
    const before = template.slice(0, at).split("\n");
    return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1, sentence };
  };
  let tokens: Token[];
  try {
    tokens = fresh().parse(template) as Token[];
  } catch (error) {
    const { message } = error as Error;
    const name = /section "(.*)"/.exec(message)?.[1];
    if (name === undefined) return [fault(template.lastIndexOf("{{"), "{{ is not closed by }}.")];
    if (message.startsWith("Unopened"))
      return [fault(Number(/\d+$/.exec(message)?.[0] ?? 0), `{{/${name}}} closes nothing.`)];
    const opened = [...template.matchAll(/\{\{\s*[#^]\s*([^{}]*?)\s*\}\}/g)].findLast((one) => one[1] === name);
    return [fault(opened?.index ?? 0, `{{#${name}}} is not closed by {{/${name}}}.`)];
  }
  const look = (some: readonly Token[]): Fault[] =>
    some.flatMap(([type, name, start, , inner]) => {
      if (type === "text" || type === "!") return [];
      if (type === ">" || type === "=") return [fault(start, "Only fields stand between {{ and }}.")];
      const known = (fields as readonly string[]).includes(name);
      const within = Array.isArray(inner) ? look(inner) : [];
      return known ? within : [fault(start, `{{${name}}} is no field of this notice.`), ...within];
    });
  return look(tokens);
}

type Token = [type: string, value: string, start: number, end: number, inner?: Token[] | string];

/**
 * Words by a template, as plain text: whoever shows them escapes them whole, the template's own along with
 * what its fields hold. Blank lines more than one are one.
 */
export function fill(template: string, values: FieldValues): string {
  const short = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value.slice(0, VALUE_MOST)]));
  const said = fresh().render(template, short, {}, { escape: String });
  return said
    .slice(0, SAID_MOST)
    .replace(/[ \t]+$/gm, "")
    .replace(/\n{3,}/g, "\n\n")
    .trim();
}

/** The same in a line of its own. */
export const fillLine = (template: string, values: FieldValues): string => fill(template, values).replace(/\s+/g, " ");
