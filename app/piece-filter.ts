import { z } from "zod";
import { type PieceFilter, SORTS } from "#server/pieces/filter.ts";

/** The days past one may narrow the pieces to. */
const WITHIN = [7, 30, 365];

/** The signs keys are made of; the database compares them with no others. What is no key names nothing. */
const [KEY, NO_KEY] = [/^[\w.-]+$/, "?"];

/** What a list of pieces is narrowed to, by the words of its address: nothing else of it counts. */
export function filterIn(words: URLSearchParams): PieceFilter {
  const get = (word: string) => words.get(word)?.slice(0, 100) || undefined;
  const key = (word: string) => {
    const said = get(word);
    return said === undefined || KEY.test(said) ? said : NO_KEY;
  };
  const show = get("show");
  const within = WITHIN.find((days) => String(days) === get("within"));
  const holder = z.uuid().safeParse(words.get("holder")).data;
  const sort = SORTS.find((one) => one === get("sort"));
  return {
    section: key("section"),
    state: key("state"),
    kind: key("kind"),
    line: key("line"),
    author: key("author"),
    words: get("words"),
    late: words.get("late") === "yes",
    planLate: words.get("plan") === "late",
    overridden: words.get("flag") === "overridden",
    stuck: words.get("flag") === "stuck",
    urgent: words.get("flag") === "urgent",
    held: words.get("flag") === "held",
    show: show === "live" || show === "all" ? show : "flight",
    after: words.get("after")?.slice(0, 500) || undefined,
    ...(holder && { holder }),
    ...(within && { within }),
    ...(sort && { sort }),
  };
}
