import { useState } from "react";
import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button, TextLink } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { Checkbox, Hidden, Input } from "#app/ui/field.tsx";
import { ColumnsChooser } from "./columns.tsx";
import { KeptFilter } from "./kept-filter.tsx";
import { type Narrowable, NarrowingSelect } from "./narrowing.tsx";
import type { PiecesPage } from "./pieces-data.ts";

/** How the list is shown is no part of what it is narrowed to, and stays when that is cleared; at the stops the line is. */
const SHOWS: Record<PiecesPage["face"], readonly string[]> = {
  table: ["as", "by"],
  dates: ["as", "by"],
  stops: ["as", "by", "line"],
};
/** What is seldom narrowed by stands behind a word, unless it is. */
const SELDOM = ["kind", "line", "author", "flag", "within", "sort", "plan"];

/** The words of the address that narrow the list, as they are kept. */
export function narrowing(words: URLSearchParams): string {
  const kept = new URLSearchParams(
    [...words].filter(([key, value]) => !["after", "do", "piece"].includes(key) && value !== ""),
  );
  kept.sort();
  return kept.toString();
}

/** Narrows the pieces; the address says how. */
export function NarrowPieces({ page, answer }: { page: PiecesPage; answer: FormAnswer | null }) {
  const { choices, deletes, kept } = page;
  const [words] = useSearchParams();
  const query = narrowing(words);
  const shown = SHOWS[page.face];
  const shows = [...words].filter(([key, value]) => shown.includes(key) && value !== "");
  const bare = new URLSearchParams(shows);
  bare.sort();
  const narrowed = query !== bare.toString();
  const seldom = SELDOM.some((name) => words.get(name) && !shown.includes(name));
  const [wanted, setWanted] = useState(false);
  // What the address says is never hidden, and goes along with whatever is chosen next.
  const more = wanted || seldom;
  const choice = (name: string, every: string, options: Narrowable["options"]) => (
    <NarrowingSelect key={`${name}-${words.get(name)}`} said={words.get(name)} {...{ name, every, options }} />
  );
  return (
    <div className="my-3 flex items-center gap-2 py-1 text-13 max-sm:-mx-4 max-sm:overflow-x-auto max-sm:px-4 sm:flex-wrap [&>*]:shrink-0">
      <ChoiceForm label="Narrow the pieces" className="contents">
        {shows.map(([name, value]) => (
          <Hidden key={name} name={name} value={value} />
        ))}
        <Input
          look="small"
          key={words.get("words")}
          type="search"
          name="words"
          aria-label="Words in titles, texts, comments and files"
          placeholder="Words"
          defaultValue={words.get("words") ?? ""}
          className="w-44"
        />
        {choice("show", "In flight", [
          { key: "live", name: "Live" },
          { key: "all", name: "All" },
        ])}
        {choice("section", "Every section", choices.sections)}
        {choice("state", "Every state", choices.states)}
        {choice("holder", "Whoever has it", choices.holders)}
        <Checkbox key={words.get("late")} name="late" value="yes" defaultChecked={words.get("late") === "yes"}>
          late only
        </Checkbox>
        {more && (
          <>
            {choice("kind", "Every kind", choices.kinds)}
            {page.face !== "stops" && choice("line", "Every line", choices.lines)}
            {choice("author", "Every author", choices.authors)}
            {choice("flag", "Flagged or not", [
              { key: "urgent", name: "Urgent" },
              { key: "held", name: "Release held" },
              { key: "stuck", name: "Review stuck" },
              { key: "overridden", name: "Moved past its rules" },
            ])}
            {choice("within", "At any time", [
              { key: "7", name: "Moved in 7 days" },
              { key: "30", name: "Moved in 30 days" },
              { key: "365", name: "Moved in a year" },
            ])}
            {page.face === "table" &&
              choice("sort", "Latest moved first", [
                { key: "waits", name: "Longest wait first" },
                { key: "due", name: "First due first" },
                { key: "publish", name: "First wished for first" },
                { key: "title", name: "By title" },
              ])}
            <Checkbox
              key={`plan-${words.get("plan")}`}
              name="plan"
              value="late"
              defaultChecked={words.get("plan") === "late"}
            >
              late by plan
            </Checkbox>
          </>
        )}
        <Button look="quiet">Show</Button>
      </ChoiceForm>
      {!seldom && (
        <Button look="word" type="button" aria-expanded={more} onClick={() => setWanted(!wanted)}>
          {more ? "By less" : "By more"}
        </Button>
      )}
      {narrowed && <TextLink to={`/pieces?${new URLSearchParams(shows)}`}>Clear</TextLink>}
      {query !== "" && <KeptFilter query={query} kept={kept} answer={answer} />}
      <span className="ml-auto flex items-center gap-3">
        {page.face !== "stops" && <ColumnsChooser columns={page.columns} all={page.allColumns} answer={answer} />}
        <TextLink to={`/pieces/file?${query}`} reloadDocument>
          As CSV
        </TextLink>
      </span>
      {deletes && (
        <TextLink to="/pieces/deleted" className="text-rail!">
          Deleted pieces
        </TextLink>
      )}
    </div>
  );
}
