import { parse } from "csv-parse/sync";
import { fromLocalInput } from "#core/time/local.ts";
import { readMoment } from "#core/time/read.ts";
import type { Viewer } from "../viewer.ts";
import { beginnings } from "./beginning.ts";
import type { NewPiece } from "./commands.ts";
import type { writersFor } from "./commission.ts";

/** What a line says, in the order in which it is said where no first line names it. */
export const COLUMNS = ["title", "kind", "section", "writer", "wished", "brief"] as const;
type Said = Record<(typeof COLUMNS)[number], string>;

/** So many pieces are begun from one list. */
export const SEVERAL_MOST = 100;

/** One line of a list, as it is understood. */
export interface Line {
  said: Said;
  /** What would be begun; null where something is amiss. */
  piece: NewPiece | null;
  problems: string[];
}

/**
 * Reads a list of pieces to be begun: comma-separated values (RFC 4180), with semicolons or tabs as tables copy them;
 * names as they are called here, dates as people write them.
 *
 * @returns the lines, or a sentence about what is wrong with the list
 */
export function readSeveral(
  text: string,
  viewer: Viewer,
  writers: Awaited<ReturnType<typeof writersFor>>,
): { lines: Line[] } | { problem: string } {
  let rows: string[][];
  try {
    rows = parse(text, {
      delimiter: delimiterOf(text),
      bom: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
      to: SEVERAL_MOST + 2,
    });
  } catch (error) {
    return { problem: `The list cannot be read: ${(error as Error).message.split("\n")[0]}.` };
  }
  const [first = []] = rows;
  const named = first.map((one) => one.toLowerCase());
  const headed = named.includes("title");
  const body = headed ? rows.slice(1) : rows;
  if (body.length === 0) return { problem: "The list is empty." };
  if (body.length > SEVERAL_MOST) return { problem: `At most ${SEVERAL_MOST} pieces are begun at once.` };
  const columns = headed ? named : [...COLUMNS];
  const unknown = headed ? named.filter((one) => !(COLUMNS as readonly string[]).includes(one)) : [];
  if (unknown.length > 0) return { problem: `Nothing here is called “${unknown[0]}”: ${COLUMNS.join(", ")} are.` };
  const choices = { ...beginnings(viewer), writers };
  return {
    lines: body.map((row) => {
      const said = Object.fromEntries(COLUMNS.map((name) => [name, row[columns.indexOf(name)] ?? ""])) as Said;
      return understood(said, viewer, choices);
    }),
  };
}

/** What parts the values: what stands most often in the first line. */
function delimiterOf(text: string): string {
  const [first = ""] = text.split("\n");
  const count = (sign: string) => first.split(sign).length;
  return [",", ";", "\t"].reduce((best, sign) => (count(sign) > count(best) ? sign : best));
}

type Named = { id: string; name: string; key?: string };

function understood(
  said: Said,
  viewer: Viewer,
  { kinds, sections, writers }: { kinds: readonly Named[]; sections: readonly Named[]; writers: readonly Named[] },
): Line {
  const problems: string[] = [];
  const find = (what: string, words: string, all: readonly Named[]) => {
    const wanted = words.toLowerCase();
    const found = all.filter(({ name, key }) =>
      [name, name.split(" / ").at(-1) ?? "", key ?? ""].some((one) => one.toLowerCase() === wanted),
    );
    if (found.length !== 1)
      problems.push(words === "" ? `It needs a ${what}.` : `No ${what} of yours is called “${words}”.`);
    return found[0]?.id ?? "";
  };
  if (said.title === "") problems.push("It needs a title.");
  const kindId = find("kind", said.kind, kinds);
  const sectionId = find("section", said.section, sections);
  const writerId = said.writer === "" ? viewer.id : find("writer", said.writer, [...writers, viewer]);
  const { calendar, zone, now } = viewer;
  const moment = said.wished === "" ? null : readMoment(said.wished, { now, zone, calendar });
  const publishAt = moment === null ? null : fromLocalInput(moment, zone);
  if (said.wished !== "" && publishAt === null) problems.push(`“${said.wished}” is no date.`);
  const asked = said.brief !== "" || writerId !== viewer.id;
  const piece: NewPiece = {
    title: said.title,
    kindId,
    sectionId,
    publishAt,
    private: false,
    commission: asked ? { writerId, brief: said.brief } : null,
  };
  return { said, piece: problems.length > 0 ? null : piece, problems };
}
