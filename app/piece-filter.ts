import { type PieceFilter, SORTS } from "#server/pieces/lists.ts";

/** The days past one may narrow the pieces to. */
const WITHIN = [7, 30, 365];

/** What a list of pieces is narrowed to, by the words of its address: nothing else of it counts. */
export function filterIn(words: URLSearchParams): PieceFilter {
  const get = (key: string) => words.get(key)?.slice(0, 100) || undefined;
  const show = get("show");
  const within = WITHIN.find((days) => String(days) === get("within"));
  const sort = SORTS.find((one) => one === get("sort"));
  return {
    section: get("section"),
    state: get("state"),
    author: get("author"),
    words: get("words"),
    late: words.get("late") === "yes",
    planLate: words.get("plan") === "late",
    overridden: words.get("flag") === "overridden",
    stuck: words.get("flag") === "stuck",
    show: show === "live" || show === "all" ? show : "flight",
    after: words.get("after")?.slice(0, 500) || undefined,
    ...(within && { within }),
    ...(sort && { sort }),
  };
}
